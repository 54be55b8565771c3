declare module 'draco3dgltf/draco_decoder_gltf_nodejs.js' {
  const createDecoderModule: (how: { wasmBinary?: ArrayBuffer }) => Promise<unknown>;
  export default createDecoderModule;
}
