export * from './check-delivery';
export * from './report';
export { bleedNeeded, textureMemory } from './findings';
export { ownersOf } from './owners';
export type { RampsToCheck } from './ramp-checks';
