import type { KTX2Container } from 'ktx-parse';
import { CoreError } from '../errors';
import type { Picture } from '../picture';

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
  // Each band told of itself only.
  const channel = levels.some(hasAlpha) ? CHANNELS.rgba : CHANNELS.rgb;
  for (const { samples } of container.dataFormatDescriptor)
    for (const sample of samples) sample.channelType = channel;
  container.pixelWidth = levels[0]!.width;
  container.pixelHeight = levels[0]!.height;
  container.levelCount = levels.length;
  container.levels = packed;
  container.supercompressionScheme = ZSTD;
  container.keyValue = { KTXorientation: 'rd', KTXwriter: 'Zanahoria' };
  return write(container, { keepWriter: true });
}

/** What a UASTC block holds (Khronos Data Format Specification 1.3, section 5.6.14): alpha only where there is any. */
const CHANNELS = { rgb: 0, rgba: 3 } as const;

function hasAlpha({ rgba }: Picture): boolean {
  for (let i = 3; i < rgba.length; i += 4) if (rgba[i]! < 255) return true;
  return false;
}

/** What of the encoder's module is used. */
interface Codec {
  encode(pixels: Uint8Array, options: Record<string, unknown>): Promise<Uint8Array>;
  init(): Promise<unknown>;
}

/** Reads KTX2 files; the encoder's module has a transcoder too. */
interface Transcoder {
  readonly KTX2File: new (bytes: Uint8Array) => Ktx2File;
}

interface Ktx2File {
  isValid(): boolean;
  getWidth(): number;
  getHeight(): number;
  startTranscoding(): boolean;
  getImageTranscodedSizeInBytes(level: number, layer: number, face: number, format: number): number;
  transcodeImage(
    out: Uint8Array,
    level: number,
    layer: number,
    face: number,
    format: number,
    alphaInOpaque: number,
    channel0: number,
    channel1: number,
  ): number;
  close(): void;
  delete(): void;
}

/** Basis Universal's `transcoder_texture_format` cTFRGBA32. */
const RGBA32 = 13;

let codec: Promise<Codec> | null = null;

/** The encoder, fetched and started when it is first needed. */
const codecNow = (): Promise<Codec> =>
  (codec ??= (async () => {
    const library: object = await import('ktx2-encoder');
    // One name in a browser, another outside.
    const [, Encoder] = Object.entries(library).find(([name]) =>
      /^(Browser|Node)BasisEncoder$/.test(name),
    ) as [string, new () => Codec];
    const made = new Encoder();
    /* eslint-disable no-console -- it takes hold of `console.log` when it is started, and tells each call there */
    const { log } = console;
    console.log = () => undefined;
    try {
      await made.init();
    } finally {
      console.log = log;
    }
    /* eslint-enable no-console */
    return made;
  })());

async function encodeBand(picture: Picture, { isSrgb, effort }: Ktx2How): Promise<Uint8Array> {
  try {
    return await (
      await codecNow()
    ).encode(picture.rgba, {
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
  }
}

/**
 * The largest level of a KTX2 file that `encodeKtx2` wrote, as a graphics card gets it.
 *
 * @throws CoreError `file-not-a-picture` if it can't be read
 */
export async function decodeKtx2(bytes: Uint8Array): Promise<Picture> {
  const { KTX2File } = (await (await codecNow()).init()) as Transcoder;
  try {
    const file = new KTX2File(bytes);
    if (file.isValid() && file.startTranscoding()) {
      const rgba = new Uint8Array(file.getImageTranscodedSizeInBytes(0, 0, 0, RGBA32));
      if (file.transcodeImage(rgba, 0, 0, 0, RGBA32, 0, -1, -1)) {
        const picture = { width: file.getWidth(), height: file.getHeight(), rgba };
        file.close();
        file.delete();
        return picture;
      }
    }
  } catch (cause) {
    codec = null;
    throw new CoreError('file-not-a-picture', NOT_KTX2, { cause });
  }
  // What a damaged file left behind in the module's memory is left with it.
  codec = null;
  throw new CoreError('file-not-a-picture', NOT_KTX2);
}

const NOT_KTX2 = 'This is no KTX2 file that can be read. Deliver it again.';

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
