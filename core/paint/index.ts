export * from './brush';
export * from './stroke';
export * from './frame';
export * from './dab';
export * from './dab-walker';
export * from './paint-desk';
export * from './stroke-tile';
export * from './live-stroke';
