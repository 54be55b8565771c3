export { matchCommands } from './commands';
