export * from './sets';
export { seenOf } from './seen';
export { saveArchive } from './set-actions';
