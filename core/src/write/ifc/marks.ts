/** What is made for a delivery and is no row of the scene: the project where there is none, and what holds elements that stand in no building. */

/** Description of a project that was made for the delivery. */
export const MADE_PROJECT = 'Made for this delivery';
/** Description of a building that holds elements of the project itself; and of what stands beside the project. */
export const IN_PROJECT = 'Holds what stands in no building';
export const BESIDE_PROJECT = 'Holds what stands beside the project';
