export * from './decal';
export * from './lay-decal';
