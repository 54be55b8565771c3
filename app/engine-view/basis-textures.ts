import {
  DataTexture,
  LinearFilter,
  LinearMipmapLinearFilter,
  SRGBColorSpace,
  UnsignedByteType,
  RGBAFormat,
  type Texture,
} from 'three';
import type { GLTFLoaderPlugin, GLTFParser } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { deliverPool } from '../shared/platform';

interface BasisTexture {
  readonly sampler?: number;
  readonly extensions?: { readonly KHR_texture_basisu?: { readonly source: number } };
}

/**
 * Reads KTX2 textures of a GLB in the delivery worker (three's own reader starts its worker from a blob, which the page's policy forbids). What
 * is shown are the texels that a graphics card would get; its halvings are made here.
 */
export const basisTextures = (parser: GLTFParser): GLTFLoaderPlugin => ({
  name: 'KHR_texture_basisu',
  loadTexture: (index: number): Promise<Texture> | null => {
    const json = parser.json as { textures: BasisTexture[]; images: { bufferView: number }[] };
    const source = json.textures[index]?.extensions?.KHR_texture_basisu?.source;
    if (source === undefined) return null;
    return (async () => {
      const view = (await parser.getDependency('bufferView', json.images[source]!.bufferView)) as ArrayBuffer;
      const { width, height, rgba } = await deliverPool.run('decodeKtx2', { bytes: new Uint8Array(view) });
      const texture = new DataTexture(
        rgba as Uint8Array<ArrayBuffer>,
        width,
        height,
        RGBAFormat,
        UnsignedByteType,
      );
      texture.colorSpace = SRGBColorSpace;
      texture.generateMipmaps = true;
      texture.minFilter = LinearMipmapLinearFilter;
      texture.magFilter = LinearFilter;
      texture.flipY = false;
      texture.needsUpdate = true;
      return texture;
    })();
  },
});
