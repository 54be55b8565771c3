export * from './motion';
export * from './pose';
