export * from './dab';
export * from './stroke-tile';
export * from './stroke';
export * from './dab-walker';
