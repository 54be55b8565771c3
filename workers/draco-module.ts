import wasm from 'draco3dgltf/draco_decoder_gltf.wasm?url';
import { useDracoModule } from '../core/formats';

/** In a browser the decoder's WebAssembly is fetched from where the build has put it. */
useDracoModule(async () => (await fetch(wasm)).arrayBuffer());
