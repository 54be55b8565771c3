export { UnwrapPanel } from './UnwrapPanel';
export { hoverSeam, pickLayout } from './seam-drawing';
export { moveChosen } from './layout-actions';
export { unwrapCommands } from './commands';
