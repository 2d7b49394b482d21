/** Name of the product that holds what stands at the top of a STEP file, where that is more than one, or stands elsewhere than at the origin. */
export const WHOLE = 'Whole';
