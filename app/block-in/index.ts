export { colorPart } from './PartColor';
export { blockInCommands } from './commands';
