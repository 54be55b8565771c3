export * from './align';
export * from './carry';
export { guardsWithin, regionsWithin } from './carry-backdrops';
export * from './plane-paint';
export * from './loss';
export * from './replay';
export * from './base-paint';
