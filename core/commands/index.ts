export * from './command';
export * from './commands';
export * from './fields';
export { paintedPlane } from './plane-work';
