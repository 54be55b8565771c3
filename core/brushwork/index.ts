export * from './brushwork';
export * from './scatter';
export * from './directions';
export { setStrokes } from './set-strokes';
export { strokePainter } from './paint-strokes';
