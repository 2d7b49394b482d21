/** What objects of 3MF are. */

/** Closed, or not: what is printed has to have an inside. */
export type ObjectType = 'model' | 'surface';

/** Part number of objects that are only the shape of what several rows show. */
export const SHAPE = 'shape';
