import { Inflate } from 'fflate';
import { CoreError } from '../errors';
import type { Picture } from '../picture';
import { crc32 } from './png';

/** The longest side of a picture that is read: the largest sheet. */
export const MAX_PICTURE_SIDE = 8192;

export interface PngHeader {
  readonly width: number;
  readonly height: number;
  /** Bits a sample: 1, 2, 4, 8 or 16. */
  readonly depth: number;
  /** 0 grey, 2 RGB, 3 palette, 4 grey and alpha, 6 RGBA (PNG third edition, section 11.2.1). */
  readonly colorType: number;
  readonly interlaced: boolean;
}

/** Samples a pixel by colour type. */
const CHANNELS: ReadonlyMap<number, number> = new Map([
  [0, 1],
  [2, 3],
  [3, 1],
  [4, 2],
  [6, 4],
]);

/** First column and row, and steps, of the passes of an interlaced picture (section 8). */
const ADAM7 = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;
const WHOLE = [[0, 0, 1, 1]] as const;

const unreadable = (cause?: unknown): CoreError =>
  new CoreError(
    'file-not-a-picture',
    'The PNG could not be read; it may be cut off. Export it again.',
    cause === undefined ? {} : { cause },
  );

/**
 * What a PNG says of itself, before anything of it is unpacked.
 *
 * @throws CoreError `file-not-a-picture`, `file-unsupported` if it is larger than MAX_PICTURE_SIDE
 */
export function readPngHeader(bytes: Uint8Array): PngHeader {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // Section 5.2: eight bytes of signature, then IHDR comes first.
  if (bytes.length < 33 || view.getUint32(0) !== 0x89504e47 || view.getUint32(12) !== 0x49484452) {
    throw new CoreError(
      'file-not-a-picture',
      'That is not a whole PNG; it may be cut off. Choose another picture, or export it again.',
    );
  }
  const [width, height] = [view.getUint32(16), view.getUint32(20)];
  if (width > MAX_PICTURE_SIDE || height > MAX_PICTURE_SIDE) {
    throw new CoreError(
      'file-unsupported',
      `The picture is ${width} x ${height}; up to ${MAX_PICTURE_SIDE} a side can be read. Make it smaller and try again.`,
    );
  }
  const [depth, colorType, , , interlace] = bytes.subarray(24, 29);
  const small = colorType === 0 || colorType === 3 ? [1, 2, 4, 8] : [8];
  const depths = colorType === 3 ? small : [...small, 16];
  if (!CHANNELS.has(colorType!) || !depths.includes(depth!) || interlace! > 1 || !width || !height) {
    throw unreadable();
  }
  return { width, height, depth: depth!, colorType: colorType!, interlaced: interlace === 1 };
}

/**
 * Any kind of PNG as 8-bit RGBA: all depths, palettes, transparent colours, interlaced or not.
 *
 * @throws CoreError `file-not-a-picture` if it is not a whole PNG, `file-unsupported` if it is too large
 */
export function decodePng(bytes: Uint8Array): Picture {
  const header = readPngHeader(bytes);
  const { width, height, depth, colorType, interlaced } = header;
  const channels = CHANNELS.get(colorType)!;
  const passes = (interlaced ? ADAM7 : WHOLE).map(([x0, y0, dx, dy]) => {
    const columns = Math.ceil((width - x0) / dx);
    const rows = Math.ceil((height - y0) / dy);
    const stride = Math.ceil((columns * channels * depth) / 8);
    return {
      x0,
      y0,
      dx,
      dy,
      columns,
      rows,
      stride,
      bytes: columns > 0 && rows > 0 ? rows * (stride + 1) : 0,
    };
  });
  const chunks = readChunks(bytes);
  const raw = inflateExactly(
    chunks.data,
    passes.reduce((sum, pass) => sum + pass.bytes, 0),
  );
  const rgba = new Uint8Array(width * height * 4);
  const write = pixelWriter(header, channels, chunks);
  const pixelBytes = Math.max(1, (channels * depth) >> 3);
  let at = 0;
  for (const { x0, y0, dx, dy, columns, rows, stride, bytes: length } of passes) {
    if (length === 0) continue;
    const above = new Uint8Array(stride);
    let previous: Uint8Array = above;
    for (let r = 0; r < rows; r++) {
      const row = raw.subarray(at + 1, at + 1 + stride);
      unfilter(raw[at]!, row, previous, pixelBytes);
      let o = ((y0 + r * dy) * width + x0) * 4;
      // Most pictures are kept as they are read.
      if (depth === 8 && channels === 4 && dx === 1) rgba.set(row, o);
      else for (let c = 0; c < columns; c++, o += dx * 4) write(row, c, rgba, o);
      previous = row;
      at += stride + 1;
    }
  }
  return { width, height, rgba };
}

interface Chunks {
  readonly data: readonly Uint8Array[];
  readonly palette: Uint8Array | null;
  readonly transparency: Uint8Array | null;
}

/** Section 5.3. @throws CoreError `file-not-a-picture` if a chunk isn't whole */
function readChunks(bytes: Uint8Array): Chunks {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const data: Uint8Array[] = [];
  let palette: Uint8Array | null = null;
  let transparency: Uint8Array | null = null;
  for (let at = 8; ;) {
    if (at + 12 > bytes.length) throw unreadable('the last chunk is missing');
    const length = view.getUint32(at);
    const end = at + 12 + length;
    if (end > bytes.length) throw unreadable('a chunk is cut off');
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (crc32(bytes.subarray(at + 4, end - 4)) !== view.getUint32(end - 4)) {
      throw unreadable(`the check sum of ${type} is wrong`);
    }
    const own = bytes.subarray(at + 8, end - 4);
    if (type === 'IDAT') data.push(own);
    else if (type === 'PLTE') palette = own;
    else if (type === 'tRNS') transparency = own;
    else if (type === 'IEND') return { data, palette, transparency };
    at = end;
  }
}

/** Deflated bytes that are unpacked at a time: 16 MB come of them at the most. */
const PIECE = 16_384;

/** Unpacks what the header promises and no more: a small file may hold gigabytes of nothing. @throws CoreError if it is less or more */
function inflateExactly(data: readonly Uint8Array[], wanted: number): Uint8Array {
  const out = new Uint8Array(wanted);
  let at = 0;
  const inflate = new Inflate((part) => {
    if (at + part.length > wanted)
      throw new RangeError(`more than the ${wanted} bytes that its header promises`);
    out.set(part, at);
    at += part.length;
  });
  // Two bytes of zlib's header stand before the deflated data.
  let skip = 2;
  try {
    for (const chunk of data) {
      const own = chunk.subarray(Math.min(skip, chunk.length));
      skip -= chunk.length - own.length;
      for (let i = 0; i < own.length; i += PIECE) inflate.push(own.slice(i, i + PIECE));
    }
  } catch (cause) {
    throw unreadable(cause);
  }
  if (at < wanted) throw unreadable(`${at} bytes of ${wanted}`);
  return out;
}

/** Undoes a row's filter in place (section 9.2). @param above the row over it, zeros for the first */
function unfilter(filter: number, row: Uint8Array, above: Uint8Array, pixelBytes: number): void {
  const n = row.length;
  switch (filter) {
    case 0:
      return;
    case 1:
      for (let i = pixelBytes; i < n; i++) row[i]! += row[i - pixelBytes]!;
      return;
    case 2:
      for (let i = 0; i < n; i++) row[i]! += above[i]!;
      return;
    case 3:
      for (let i = 0; i < pixelBytes; i++) row[i]! += above[i]! >> 1;
      for (let i = pixelBytes; i < n; i++) row[i]! += (row[i - pixelBytes]! + above[i]!) >> 1;
      return;
    case 4:
      for (let i = 0; i < pixelBytes; i++) row[i]! += above[i]!;
      for (let i = pixelBytes; i < n; i++) {
        const a = row[i - pixelBytes]!;
        const b = above[i]!;
        const c = above[i - pixelBytes]!;
        // The distances of a + b - c from a, b and c.
        const pa = Math.abs(b - c);
        const pb = Math.abs(a - c);
        const pc = Math.abs(a + b - c - c);
        row[i]! += pa <= pb && pa <= pc ? a : pb <= pc ? b : c;
      }
      return;
    default:
      throw unreadable(`there is no filter ${filter}`);
  }
}

type PixelWriter = (row: Uint8Array, pixel: number, out: Uint8Array, at: number) => void;

function pixelWriter(
  { depth, colorType }: PngHeader,
  channels: number,
  { palette, transparency }: Chunks,
): PixelWriter {
  const most = 2 ** depth - 1;
  const sample = (row: Uint8Array, i: number): number => {
    if (depth === 8) return row[i]!;
    if (depth === 16) return (row[i * 2]! << 8) | row[i * 2 + 1]!;
    const bit = i * depth;
    return (row[bit >> 3]! >> (8 - depth - (bit & 7))) & most;
  };
  // Section 13.12: samples are scaled so that the largest stays the largest.
  const toByte = (v: number): number => (depth === 8 ? v : Math.round((v * 255) / most));
  if (colorType === 3) {
    const colors = palette ? Math.floor(palette.length / 3) : 0;
    return (row, pixel, out, at) => {
      const index = sample(row, pixel);
      if (index >= colors) throw unreadable(`colour ${index} of a palette of ${colors}`);
      out.set(palette!.subarray(index * 3, index * 3 + 3), at);
      out[at + 3] = transparency?.[index] ?? 255;
    };
  }
  const grey = channels < 3;
  const hasAlpha = channels % 2 === 0;
  // A colour that is transparent: two bytes a channel (section 11.3.1.1).
  const clear =
    !hasAlpha && transparency && transparency.length >= channels * 2
      ? Array.from({ length: channels }, (_, k) => (transparency[k * 2]! << 8) | transparency[k * 2 + 1]!)
      : null;
  return (row, pixel, out, at) => {
    const first = pixel * channels;
    let isClear = clear !== null;
    for (let k = 0; k < 3; k++) {
      const channel = grey ? 0 : k;
      const v = sample(row, first + channel);
      if (clear && v !== clear[channel]) isClear = false;
      out[at + k] = toByte(v);
    }
    out[at + 3] = hasAlpha ? toByte(sample(row, first + channels - 1)) : isClear ? 0 : 255;
  };
}
