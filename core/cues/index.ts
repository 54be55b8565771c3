export * from './cue';
export { AXES } from './kinds/height';
export * from './ray-scene';
export * from './any-hit';
export * from './occlusion';
export * from './smooth-cue';
export * from './mean-curvature';
export * from './measure-cue';
