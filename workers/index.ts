export * from './rpc';
export * from './paint-protocol';
export * from './paint-handlers';
export * from './job-protocol';
export type * from './deliver-protocol';
export type * from './match-protocol';
export * from './job-pool';
export * from './cast-cue';
export type * from './set-protocol';
