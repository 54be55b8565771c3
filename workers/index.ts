export * from './rpc';
export * from './store';
export * from './projects';
export * from './keeper';
export * from './paint-protocol';
export * from './job-protocol';
export * from './job-pool';
export * from './cast-occlusion';
