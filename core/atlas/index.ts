export * from './atlas';
