export * from './active-layer';
export * from './active-sheet';
export { markBusy } from './busy';
export type { MadeModel } from './change-model';
export { isUntouchedProject, useProject, type ProjectView } from './project-store';
export * from './regions';
export { Session } from './session';
export * from './sheet-actions';
export { SheetCopy } from './sheet-copy';
