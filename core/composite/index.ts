export * from './blend-modes';
export * from './operations';
export * from './composite';
