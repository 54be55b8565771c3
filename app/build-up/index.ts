export * from './BuildUp';
export * from './layer-actions';
export { choosePattern, patternOfWords } from './patterns';
export { buildUpCommands } from './commands';
