export * from './BuildUp';
export * from './layer-actions';
export { chosenLines, copyOver, inkLayer, nextInk, putLines } from './ink-actions';
export { choosePattern, patternOfWords } from './patterns';
export { buildUpCommands } from './commands';
