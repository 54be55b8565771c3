export * from './ramp-sheet';
export * from './project-ramps';
export * from './seats';
export * from './split-seated';
export * from './make-ramps';
export * from './fit-ramps';
export * from './fit-albedo';
export * from './put-on-ramps';
