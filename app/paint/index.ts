export { paintCommands } from './commands';
