export * from './picture-kind';
export * from './read-model';
export * from './gltf-write';
export {
  encodeDeepPng,
  encodeGreyPng,
  encodeApng,
  encodePng,
  encodePngBeside,
  type DeepPicture,
  type Picture,
} from './png';
export * from './png-read';
export * from './palette-files';
export * from './palette-read';
export type { Companions } from './gltf-read';
export * from './layout-files';
export * from './obj-write';
export type { ImportedModel, ImportedPaint } from './model-builder';
export * from './webp';
export * from './ktx2';
export * from './openraster';
export * from './openraster-read';
export { readZip } from './zip-read';
