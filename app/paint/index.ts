export { Tray } from './Tray';
