export * from './levels';
export * from './dither';
export * from './hull';
export * from './names';
export * from './settings';
export * from './texture';
export * from './parcel-names';
export * from './files';
