export * from './mesh';
export * from './bounds';
export * from './normals';
export * from './weld';
export * from './edges';
export * from './islands';
export * from './topology';
