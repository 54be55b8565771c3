export { Easel } from './Easel';
export { ReferencePane } from './ReferencePane';
export { easelCommands } from './commands';
export { FloatingBoard } from './FloatingBoard';
export { useReferenceUrl } from './reference-pictures';
export { bringPictures } from './bring-pictures';
