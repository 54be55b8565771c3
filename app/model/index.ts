export { modelCommands } from './commands';
