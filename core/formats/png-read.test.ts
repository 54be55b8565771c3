import { deflateSync } from 'node:zlib';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../math';
import { decodePng } from '.';

/** A PNG of any kind, written after the standard (PNG third edition, sections 5, 7, 8, 11) and not by what is checked. */
function writePng(
  width: number,
  height: number,
  depth: number,
  colorType: number,
  sample: (x: number, y: number, channel: number) => number,
  chunks: readonly (readonly [type: string, data: Buffer])[] = [],
  interlaced = false,
): Buffer {
  const channels = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 }[colorType]!;
  const passes = interlaced
    ? [
        [0, 0, 8, 8],
        [4, 0, 8, 8],
        [0, 4, 4, 8],
        [2, 0, 4, 4],
        [0, 2, 2, 4],
        [1, 0, 2, 2],
        [0, 1, 1, 2],
      ]
    : [[0, 0, 1, 1]];
  const rows: Buffer[] = [];
  for (const [x0, y0, dx, dy] of passes as [number, number, number, number][]) {
    for (let y = y0; y < height; y += dy) {
      const bits: number[] = [];
      for (let x = x0; x < width; x += dx) {
        for (let c = 0; c < channels; c++) {
          const v = sample(x, y, c);
          for (let b = depth - 1; b >= 0; b--) bits.push((v >> b) & 1);
        }
      }
      if (bits.length === 0) continue;
      const row = Buffer.alloc(1 + Math.ceil(bits.length / 8));
      bits.forEach((bit, i) => (row[1 + (i >> 3)]! |= bit << (7 - (i & 7))));
      rows.push(row);
    }
  }
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([depth, colorType, 0, 0, interlaced ? 1 : 0], 8);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    ...(
      [
        ['IHDR', header],
        ...chunks,
        ['IDAT', deflateSync(Buffer.concat(rows))],
        ['IEND', Buffer.alloc(0)],
      ] as const
    ).map(([type, data]) => chunk(type, data)),
  ]);
}

function chunk(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  let crc = 0xffffffff;
  for (const byte of body) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = crc & 1 ? 0xedb88320 ^ (crc >>> 1) : crc >>> 1;
  }
  out.writeUInt32BE((crc ^ 0xffffffff) >>> 0, body.length + 4);
  return out;
}

const KINDS = [
  [0, 1],
  [0, 2],
  [0, 4],
  [0, 8],
  [0, 16],
  [2, 8],
  [2, 16],
  [3, 1],
  [3, 2],
  [3, 4],
  [3, 8],
  [4, 8],
  [4, 16],
  [6, 8],
  [6, 16],
] as const;

const u16 = (...values: number[]): Buffer => {
  const out = Buffer.alloc(values.length * 2);
  values.forEach((v, i) => out.writeUInt16BE(v, i * 2));
  return out;
};

// pngjs 7.0.0, which passes PngSuite, reads each picture independently.
describe('every kind of PNG is read as pngjs reads it', () => {
  for (const [colorType, depth] of KINDS) {
    for (const interlaced of [false, true]) {
      for (const clear of [false, true]) {
        // Kinds with alpha have no transparent colour (section 11.3.1.1).
        if (clear && colorType >= 4) continue;
        const name = `type ${colorType}, ${depth} bits${interlaced ? ', interlaced' : ''}${clear ? ', with a transparent colour' : ''}`;
        it(name, () => {
          const random = seededRandom(colorType * 100 + depth);
          const [width, height] = [23, 17];
          const most = 2 ** depth;
          const colors = Math.min(most, 13);
          const samples = Array.from({ length: width * height * 4 }, () =>
            Math.floor(random() * (colorType === 3 ? colors : most)),
          );
          const sample = (x: number, y: number, c: number): number => samples[(y * width + x) * 4 + c]!;
          const chunks: [string, Buffer][] = [];
          if (colorType === 3) {
            chunks.push([
              'PLTE',
              Buffer.from(Array.from({ length: colors * 3 }, () => Math.floor(random() * 256))),
            ]);
          }
          if (clear) {
            const first = [0, 1, 2].map((c) => samples[c]!);
            chunks.push([
              'tRNS',
              colorType === 0 ? u16(first[0]!) : colorType === 2 ? u16(...first) : Buffer.from([0, 128]),
            ]);
          }
          const file = writePng(width, height, depth, colorType, sample, chunks, interlaced);
          const ours = decodePng(file);
          const theirs = PNG.sync.read(file);
          expect([ours.width, ours.height]).toEqual([theirs.width, theirs.height]);
          let worst = 0;
          for (let i = 0; i < ours.rgba.length; i++) {
            // What is wholly transparent has no colour that could be seen; pngjs makes it black.
            if (theirs.data[i | 3] === 0 && i % 4 !== 3) continue;
            worst = Math.max(worst, Math.abs(ours.rgba[i]! - theirs.data[i]!));
          }
          // pngjs scales 16 bits down by another rounding.
          expect(worst).toBeLessThanOrEqual(depth === 16 ? 1 : 0);
        });
      }
    }
  }
});

describe('hostile PNGs', () => {
  const grey = writePng(8, 8, 8, 0, () => 7);

  it('a small one that would unpack to a gigabyte is not unpacked', () => {
    const bomb = deflateSync(Buffer.alloc(300e6), { level: 9 });
    const start = grey.subarray(0, 33);
    const file = Buffer.concat([start, chunk('IDAT', bomb), chunk('IEND', Buffer.alloc(0))]);
    const before = process.memoryUsage().rss;
    expect(() => decodePng(file)).toThrow(expect.objectContaining({ code: 'file-not-a-picture' }));
    expect(process.memoryUsage().rss - before).toBeLessThan(150e6);
  });

  it('one that claims a size that can’t be is refused by its header', () => {
    const huge = Buffer.from(grey);
    huge.writeUInt32BE(100_000, 16);
    expect(() => decodePng(huge)).toThrow(/100000 x 8; up to 8192/);
  });

  it('one that is cut off, no PNG, or names colours that its palette hasn’t', () => {
    const bad = (bytes: Uint8Array): void =>
      expect(() => decodePng(bytes)).toThrow(expect.objectContaining({ code: 'file-not-a-picture' }));
    for (const length of [0, 7, 20, 40, grey.length - 20]) bad(grey.subarray(0, length));
    bad(Buffer.from('this is no picture at all, and long enough to hold a header'));
    bad(writePng(4, 4, 8, 3, () => 9, [['PLTE', Buffer.from([1, 2, 3])]]));
  });
});
