export { FormBar } from './FormBar';
