export { Easel } from './Easel';
export { ReferenceView } from './ReferenceView';
