export * from './tree/BuildUp';
export * from './tree/layer-actions';
export { chosenLines, copyOver, inkLayer, nextInk, putLines } from './ink/ink-actions';
export { choosePattern, patternOfWords } from './fields/patterns';
export { buildUpCommands } from './commands';
