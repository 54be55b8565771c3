import {
  DepthTexture,
  FloatType,
  NearestFilter,
  RGBAFormat,
  UnsignedByteType,
  UnsignedIntType,
  WebGLRenderTarget,
} from 'three';

/** How often a pixel is looked up while the camera rests. The first is its middle. */
export const LOOKUPS = 4;

/** Where in a pixel, from its middle, pixels: spread so that an edge in any direction is met in steps. */
export const SAMPLE_OFFSETS = [
  [0, 0],
  [0.375, 0.125],
  [-0.25, 0.375],
  [-0.125, -0.375],
] as const;

const nearest = { minFilter: NearestFilter, magFilter: NearestFilter, generateMipmaps: false } as const;

/** What was looked up for one view of the model; see LookupPass. */
export class ViewTarget {
  /** How many of the lookups are those of the present camera. */
  samples = 0;
  readonly kind = new WebGLRenderTarget(1, 1, {
    ...nearest,
    type: UnsignedByteType,
    format: RGBAFormat,
    depthBuffer: false,
  });
  private readonly all: WebGLRenderTarget[] = [];
  width = 1;
  height = 1;

  /** @param width device pixels */
  resize(width: number, height: number): void {
    if (width === this.width && height === this.height) return;
    this.width = width;
    this.height = height;
    for (const target of [...this.all, this.kind]) target.setSize(width, height);
    this.samples = 0;
  }

  lookups(k: number): WebGLRenderTarget {
    return (this.all[k] ??= new WebGLRenderTarget(this.width, this.height, {
      ...nearest,
      type: FloatType,
      // Lines ask only the first how far the model is.
      ...(k === 0 ? { depthTexture: new DepthTexture(this.width, this.height, UnsignedIntType) } : {}),
    }));
  }

  dispose(): void {
    this.kind.dispose();
    for (const target of this.all) {
      target.depthTexture?.dispose();
      target.dispose();
    }
  }
}
