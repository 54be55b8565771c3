export { UnwrapPanel } from './UnwrapPanel';
