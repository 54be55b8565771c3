export * from './tile-pack';
export * from './pixel-store';
