export * from './motion';
export * from './pose';
export * from './poser';
export * from './file-pose';
