export * from './limits';
export * from './cut';
export * from './region';
export * from './region-shape';
export * from './select';
export * from './lasso';
export * from './sheet-lasso';
export * from './follow-region';
