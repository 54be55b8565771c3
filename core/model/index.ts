export * from './align';
export * from './carry';
export * from './plane-paint';
export * from './loss';
export * from './replay';
export * from './base-paint';
