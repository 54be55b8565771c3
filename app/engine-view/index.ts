export * from './delivered-model';
export * from './engine-scene';
export * from './stand';
export * from './grounds';
export { GroundChips } from './GroundChips';
