export * from './works';
export * from './report';
export * from './export-maker';
export * from './engine-source';
