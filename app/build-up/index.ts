export * from './BuildUp';
export * from './layer-actions';
export { buildUpCommands } from './commands';
