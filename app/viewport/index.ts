export { Viewport, type LayoutActions } from './Viewport';
export { activeView } from './active-view';
export { linkZoom } from './zoom-link';
export type { Tool } from './pointer-control';
export { viewCommands } from './commands';
