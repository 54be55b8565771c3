export * from './blend-modes';
export * from './composite';
