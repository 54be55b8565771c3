export * from './file-set';
export * from './job';
export * from './do-job';
export * from './on-all-cores';
export * from './process-pool';
export { parseJson } from './read';
export * from './serve-process';
