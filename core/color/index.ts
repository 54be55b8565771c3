export * from './rgb';
export * from './srgb';
export * from './oklab';
export * from './cielab';
export * from './ciede2000';
export * from './describe';
export * from './ramp';
export * from './palette';
