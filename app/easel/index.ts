export { Easel } from './Easel';
export { ReferenceView } from './ReferenceView';
export { easelCommands } from './commands';
