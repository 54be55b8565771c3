import type { Picture } from '../picture';

export interface WebpHow {
  /** 0..100; `lossless`: every texel stays as it is, transparent ones too. */
  readonly quality: number | 'lossless';
}

/**
 * Where the encoder's WebAssembly comes from, if it can't be fetched from beside its script (outside a browser). To be called before the
 * first picture is encoded.
 */
export async function useWebpModule(module: WebAssembly.Module): Promise<void> {
  const { init } = await import('@jsquash/webp/encode');
  await init(module);
}

/** A WebP picture (RFC 9649), written by libwebp. 8-bit sRGB; it has no alpha where every pixel is opaque. */
export async function encodeWebp(
  { width, height, rgba }: Picture,
  { quality }: WebpHow,
): Promise<Uint8Array> {
  // It is fetched when the first picture is encoded.
  const { default: encode } = await import('@jsquash/webp/encode');
  const data = { data: new Uint8ClampedArray(rgba), width, height, colorSpace: 'srgb' } as const;
  const how =
    quality === 'lossless'
      ? { lossless: 1, exact: 1, quality: 75 }
      : // Hues at hard borders stay where colour isn't read from every second texel only.
        { quality, use_sharp_yuv: 1, alpha_quality: 100, exact: 1 };
  return new Uint8Array(await encode(data, how));
}
