export { DeliverPanel } from './DeliverPanel';
