export * from './motion';
export * from './pose';
export * from './pose-mesh';
