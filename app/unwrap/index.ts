export { unwrapCommands } from './commands';
export { ISLAND_ENTRIES } from './island-commands';
