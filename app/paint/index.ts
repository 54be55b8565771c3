export { Tray } from './Tray';
export { paintCommands } from './commands';
