export * from './tiling';
export * from './surface-map';
export * from './places';
export * from './sub-bounds';
export * from './measure';
export * from './bleed';
export * from './coarse';
export * from './gutter-home';
export { flatTriangle, layTriangle, wrap } from './triangle-on-sheet';
