export * from './tiling';
export * from './surface-map';
export * from './measure';
export * from './bleed';
