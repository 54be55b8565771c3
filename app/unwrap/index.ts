export { unwrapCommands } from './commands';
