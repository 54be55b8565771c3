export * from './pattern';
export * from './pattern-pictures';
export * from './pyramid';
export * from './tile-pattern';
