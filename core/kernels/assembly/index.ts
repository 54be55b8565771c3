// AssemblyScript, compiled to WebAssembly SIMD by script/build-kernels.mjs. All pointers are byte offsets into the imported
// memory. Each kernel has a plain TypeScript twin (named beside it) that says what it computes; tests hold the two together.
export { anyHit, castPoints, firstHit, hitId } from './rays';
export { dab } from './dab';
export { strokeTile } from './stroke';
export { lay8, read8, read16, readColor, readStraight, fade, mix, layOnto, resolve } from './composite';
