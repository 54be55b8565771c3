export { formCommands } from './commands';
