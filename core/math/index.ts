export * from './vec3';
export * from './scalar';
export * from './sequence';
export * from './hash';
export * from './symmetric3';
export * from './direction';
export * from './noise';
export * from './curve';
