export * from './kernels';
export * from './plain-kernels';
export * from './wasm-kernels';
export { WasmArena } from './wasm-module';
