import type { KTX2Container } from 'ktx-parse';
import { CoreError } from '../errors';
import type { Picture } from './png';

export interface Ktx2How {
  /** Colours are sRGB-encoded; otherwise values that are read as they are. */
  readonly isSrgb: boolean;
  /** How long the encoder looks for the best blocks. */
  readonly effort: 'fast' | 'fine';
  readonly onProgress?: (done: number) => void;
}

/** Rows that are encoded at once: progress is told after each band, and no call is over the encoder's 12 million texels. */
const BAND = 256;

/** UASTC holds a block of 4 x 4 texels in 16 bytes. */
const BLOCK = 4;
const BLOCK_BYTES = 16;

/** KTX 2.0, section 3.6: Zstandard. */
const ZSTD = 2;

/** What pack flags mean to the encoder (basisu_uastc_enc.h): 0 fastest, 2 its default. */
const EFFORTS = { fast: 0, fine: 2 } as const;

/**
 * A KTX 2.0 file of UASTC blocks (Basis Universal), compressed with Zstandard, with the levels that are given.
 *
 * Levels are encoded band by band: a block knows nothing of its neighbours, so bands lie in the file one after the other as if they had
 * been encoded at once, and a level's Zstandard data may be several frames (RFC 8878, section 3.1).
 *
 * @param levels the picture and its halvings, the largest first
 * @throws CoreError `encoder-failed` if the encoder gives up
 */
export async function encodeKtx2(levels: readonly Picture[], how: Ktx2How): Promise<Uint8Array> {
  // Both are fetched when the first texture is encoded.
  const { read, write } = await import('ktx-parse');
  const all = levels.reduce((sum, { width, height }) => sum + width * height, 0);
  let done = 0;
  let container: KTX2Container | null = null;
  const packed: KTX2Container['levels'] = [];
  for (const { width, height, rgba } of levels) {
    const frames: Uint8Array[] = [];
    for (let y = 0; y < height; y += BAND) {
      const rows = Math.min(BAND, height - y);
      const band = rgba.subarray(y * width * 4, (y + rows) * width * 4);
      const encoded = read(await encodeBand({ width, height: rows, rgba: band }, how));
      container ??= encoded;
      frames.push(encoded.levels[0]!.levelData);
      done += width * rows;
      how.onProgress?.(done / all);
    }
    const blocks = Math.ceil(width / BLOCK) * Math.ceil(height / BLOCK);
    packed.push({ levelData: joined(frames), uncompressedByteLength: blocks * BLOCK_BYTES });
  }
  if (!container) throw new CoreError('bad-argument', 'There is no picture to encode.');
  container.pixelWidth = levels[0]!.width;
  container.pixelHeight = levels[0]!.height;
  container.levelCount = levels.length;
  container.levels = packed;
  container.supercompressionScheme = ZSTD;
  container.keyValue = { KTXorientation: 'rd', KTXwriter: 'Zanahoria' };
  return write(container, { keepWriter: true });
}

let isQuiet = false;

async function encodeBand(picture: Picture, { isSrgb, effort }: Ktx2How): Promise<Uint8Array> {
  /* eslint-disable no-console -- the encoder's words are kept away from it, none are written */
  const { encodeToKTX2 } = await import('ktx2-encoder');
  const { log } = console;
  // The encoder takes hold of `console.log` when it is started, and tells each call there.
  if (!isQuiet) console.log = () => undefined;
  try {
    return await encodeToKTX2(picture.rgba, {
      imageDecoder: () =>
        Promise.resolve({ data: picture.rgba, width: picture.width, height: picture.height }),
      isUASTC: true,
      uastcLDRQualityLevel: EFFORTS[effort],
      needSupercompression: true,
      generateMipmap: false,
      isPerceptual: isSrgb,
      isSetKTX2SRGBTransferFunc: isSrgb,
    });
  } catch (cause) {
    throw new CoreError(
      'encoder-failed',
      `The picture of ${picture.width} x ${picture.height} could not be encoded as KTX2. Choose a smaller size, or another format.`,
      { cause },
    );
  } finally {
    console.log = log;
    isQuiet = true;
  }
}

/* eslint-enable no-console */

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
