export * from './picture';
export * from './bilinear';
export * from './levels';
export * from './resample';
