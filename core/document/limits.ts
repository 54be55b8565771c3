/** What a project may hold. A limit holds at every command and at every door, so that what was accepted can be opened again. */
export const MAX_NODES = 200;
/** Groups within groups. */
export const MAX_DEPTH = 8;
export const MAX_SWATCHES = 1000;
export const MAX_REFERENCES = 100;
export const MAX_REGIONS = 500;
export const MAX_LIGHTS = 20;
export const MAX_PATTERNS = 50;
/** Sets of triangles that strokes were held by; those that no stroke needs any more are dropped first. */
export const MAX_GUARDS = 5000;
export const MAX_FRAMES = 200;

/** Kept cameras. */
export const MAX_CAMERAS = 64;

/** Kept looks. */
export const MAX_LOOKS = 60;
