/** Width to height of the picture of a camera. */

/** What a camera says of it; nothing where that is no such number. */
export const aspectOf = (ratio: number | undefined): { aspect?: number } =>
  ratio !== undefined && Number.isFinite(ratio) && ratio > 0 ? { aspect: ratio } : {};
