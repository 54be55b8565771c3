export { colorChoice } from './choice-actions';
export { colorPart } from './PartColor';
export { blockInCommands } from './commands';
