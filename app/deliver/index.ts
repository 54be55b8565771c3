export { deliverCommands } from './commands';
