/** Conversion between encoded sRGB and linear light (IEC 61966-2-1). */

/** @param encoded 0 to 1 @returns linear, 0 to 1 */
export function linearFromSrgb(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}

/** @param linear 0 to 1 @returns encoded, 0 to 1 */
export function srgbFromLinear(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

/** `#rrggbb` of a linear colour. */
export function hexFromLinear(colour: readonly number[]): string {
  return `#${colour
    .map((c) =>
      Math.round(srgbFromLinear(c) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

/** Linear colour of `#rrggbb`. */
export function linearFromHex(hex: string): [number, number, number] {
  const part = (at: number) => linearFromSrgb(Number.parseInt(hex.slice(at, at + 2), 16) / 255);
  return [part(1), part(3), part(5)];
}
