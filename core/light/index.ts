export * from './light-plan';
