export * from './light-plan';
export * from './evaluate';
export * from './stand-ins';
export * from './calm-normals';
export * from './tones';
export * from './light-slope';
export * from './rename';
export * from './planned-normals';
export { standInFrame, standInLines } from './stand-in-lines';
