export { ModelPanel } from './ModelPanel';
