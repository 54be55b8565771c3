export * from './brushwork';
export * from './scatter';
export * from './directions';
export * from './lay-strokes';
