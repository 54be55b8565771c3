import { deflateSync, inflateSync } from 'fflate';
import { CoreError } from '../errors';
import { TILE_BYTES } from '../surface';

/** The pixels of a tile at one moment. `bytes` null: the tile was empty. */
export interface TileState {
  readonly plane: number;
  readonly tile: number;
  readonly bytes: Uint8Array | null;
}

/** A filled tile by itself, packed: as it is stored, and held while nobody looks at it. */
export interface PackedTile {
  readonly plane: number;
  readonly tile: number;
  readonly packed: Uint8Array;
}

/**
 * Begins what was packed as differences. Older tiles were deflated as they were, and no deflated data can begin with this: the block
 * type 3 doesn't exist (RFC 1951, section 3.2.3).
 */
const DIFFERENCES = 7;

/**
 * Packs filled tiles, one after the other: channel by channel the differences from texel to texel, deflated. Of soft paint that
 * takes half as much as deflating it as it is, in the same time. (Higher levels: twice the time for a quarter less.)
 */
export function packPixels(bytes: Uint8Array): Uint8Array {
  const deflated = deflateSync(differences(bytes), { level: 1 });
  const out = new Uint8Array(deflated.length + 1);
  out[0] = DIFFERENCES;
  out.set(deflated, 1);
  return out;
}

/** @param length bytes that must come out @returns null if it isn't what `packPixels` made, today or in older versions */
export function unpackPixels(packed: Uint8Array, length: number): Uint8Array<ArrayBuffer> | null {
  const isNew = packed[0] === DIFFERENCES;
  try {
    // A byte more than is expected, so that longer data shows.
    const out = new Uint8Array(length + 1);
    const { length: found } = inflateSync(isNew ? packed.subarray(1) : packed, { out });
    if (found !== length) return null;
    return isNew ? sums(out.subarray(0, length)) : out.slice(0, length);
  } catch {
    return null;
  }
}

function differences(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  for (let from = 0; from < bytes.length; from += TILE_BYTES) {
    for (let channel = 0, o = from; channel < 4; channel++) {
      let before = 0;
      for (let i = from + channel; i < from + TILE_BYTES; i += 4) {
        out[o++] = bytes[i]! - before;
        before = bytes[i]!;
      }
    }
  }
  return out;
}

function sums(planes: Uint8Array): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(planes.length);
  for (let from = 0; from < planes.length; from += TILE_BYTES) {
    for (let channel = 0, o = from; channel < 4; channel++) {
      let sum = 0;
      for (let i = from + channel; i < from + TILE_BYTES; i += 4) {
        sum = (sum + planes[o++]!) & 255;
        out[i] = sum;
      }
    }
  }
  return out;
}

/** Some tiles at one moment, small enough to keep for every step. */
export interface PackedTiles {
  readonly where: readonly { readonly plane: number; readonly tile: number; readonly empty: boolean }[];
  /** The filled ones in order, so many together, as `packPixels` makes it. */
  readonly deflated: readonly Uint8Array[];
}

/** Filled tiles that are deflated together: 1 MB, so that a change of every layer needs no memory for all of them at once. */
const TOGETHER = 64;

/** Packs tiles without loss, 64 together. */
export function packTiles(tiles: readonly TileState[]): PackedTiles {
  const filled = tiles.flatMap((t) => (t.bytes ? [t.bytes] : []));
  const deflated: Uint8Array[] = [];
  for (let i = 0; i < filled.length; i += TOGETHER) {
    const group = filled.slice(i, i + TOGETHER);
    const raw = new Uint8Array(group.length * TILE_BYTES);
    group.forEach((bytes, k) => raw.set(bytes, k * TILE_BYTES));
    deflated.push(packPixels(raw));
  }
  return { where: tiles.map(({ plane, tile, bytes }) => ({ plane, tile, empty: !bytes })), deflated };
}

/** The tiles again, in their order. @throws CoreError `storage-damaged` if they can't be read */
export function unpackTiles({ where, deflated }: PackedTiles): TileState[] {
  const filled = where.filter((w) => !w.empty).length;
  // Steps of version 0.2 have all their tiles in one.
  const together = deflated.length === 1 ? filled : TOGETHER;
  let raw = new Uint8Array(0);
  let at = 0;
  return where.map(({ plane, tile, empty }) => {
    if (empty) return { plane, tile, bytes: null };
    const within = at % together;
    if (within === 0) raw = unpackGroup(deflated[at / together], Math.min(together, filled - at));
    at++;
    return { plane, tile, bytes: raw.slice(within * TILE_BYTES, (within + 1) * TILE_BYTES) };
  });
}

function unpackGroup(packed: Uint8Array | undefined, tiles: number): Uint8Array<ArrayBuffer> {
  const raw = packed && unpackPixels(packed, tiles * TILE_BYTES);
  if (raw) return raw;
  throw new CoreError(
    'storage-damaged',
    'The pixels of that step can’t be read any more, so it can’t be taken. Nothing was changed.',
  );
}

/** Bytes that packed tiles take. */
export const packedBytes = ({ deflated }: PackedTiles): number =>
  deflated.reduce((sum, bytes) => sum + bytes.length, 0);
