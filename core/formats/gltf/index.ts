export { useDracoModule } from './draco';
export type { Companions } from './container';
export { GLB_MATERIALS, type GlbDetail, type GlbHull, type GlbMaterial } from './look';
export { readFileMotion } from './file-motion';
export { writeGlb } from './write';
export type { KeptFile } from './write-into';
export { writeUnlitGlb } from './write-unlit';
