export * from './light-plan';
export * from './evaluate';
export * from './stand-ins';
export * from './calm-normals';
export * from './tones';
export * from './rename';
