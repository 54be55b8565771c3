export * from './cue';
export * from './ray-scene';
export * from './any-hit';
export * from './occlusion';
export * from './smooth-cue';
export * from './simple-cues';
export * from './measure-cue';
