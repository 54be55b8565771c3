export * from './ramp-sheet';
export * from './put-on-ramps';
