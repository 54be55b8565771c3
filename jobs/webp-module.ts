import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { useWebpModule } from '../core/formats';

let ready: Promise<void> | null = null;

/** Outside a browser the encoder's WebAssembly is read from its package. */
export const webpReady = (): Promise<void> =>
  (ready ??= (async () => {
    const file = createRequire(import.meta.url).resolve('@jsquash/webp/codec/enc/webp_enc_simd.wasm');
    await useWebpModule(new WebAssembly.Module(await readFile(file)));
  })());
