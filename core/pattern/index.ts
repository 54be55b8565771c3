export * from './pattern';
export * from './pyramid';
export * from './tile-pattern';
