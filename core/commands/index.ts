export * from './command';
export * from './commands';
export * from './fields';
export { paintedChannel } from './plane-work';
