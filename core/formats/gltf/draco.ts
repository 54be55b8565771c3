// Whoever compiles the core has to know the package, which has no types.
// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./draco3dgltf.d.ts" />
/** Where the decoder's WebAssembly comes from; null: from beside its script, as in Node. */
let source: (() => Promise<ArrayBuffer>) | null = null;
let decoder: Promise<unknown> | null = null;

/** Says where the decoder's WebAssembly comes from. To be called before the first file is read that needs it. */
export function useDracoModule(fetch: () => Promise<ArrayBuffer>): void {
  source = fetch;
}

/** The decoder of KHR_draco_mesh_compression; it is fetched for the first file that needs it. */
export const dracoDecoder = (): Promise<unknown> =>
  (decoder ??= (async () => {
    const { default: make } = await import('draco3dgltf/draco_decoder_gltf_nodejs.js');
    return make(source ? { wasmBinary: await source() } : {});
  })());
