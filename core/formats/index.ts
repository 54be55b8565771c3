export * from './picture-kind';
export * from './read-model';
export * from './gltf-write';
export * from './png';
export * from './palette-files';
export type { Companions } from './gltf-read';
export * from './layout-files';
export * from './obj-write';
export type { ImportedModel, ImportedPaint } from './model-builder';
