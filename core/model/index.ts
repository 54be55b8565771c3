export * from './align';
export * from './carry';
export * from './loss';
export * from './replay';
export * from './base-paint';
