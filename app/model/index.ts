export { modelCommands, PART_ENTRIES } from './commands';
