/** Corners of a line around something. */
export const MAX_OUTLINE = 400;
/** Lines by which one region is cut. */
export const MAX_CUTS = 64;
