import { deflateSync, inflateSync } from 'fflate';
import { TILE_BYTES } from '../surface';

/** The pixels of a tile at one moment. `bytes` null: the tile was empty. */
export interface TileState {
  readonly plane: number;
  readonly tile: number;
  readonly bytes: Uint8Array | null;
}

/** A filled tile by itself, deflated: as it is stored, and held while nobody looks at it. */
export interface PackedTile {
  readonly plane: number;
  readonly tile: number;
  readonly packed: Uint8Array;
}

/** Level 1: higher levels took 3 times as long for 15 % less. */
export const packTile = (bytes: Uint8Array): Uint8Array => deflateSync(bytes, { level: 1 });

/** @returns null if that is no packed tile */
export function unpackTile(packed: Uint8Array): Uint8Array | null {
  try {
    const bytes = inflateSync(packed, { out: new Uint8Array(TILE_BYTES) });
    return bytes.length === TILE_BYTES ? bytes : null;
  } catch {
    return null;
  }
}

/** Some tiles at one moment, small enough to keep for every step. */
export interface PackedTiles {
  readonly where: readonly { readonly plane: number; readonly tile: number; readonly empty: boolean }[];
  /** The filled ones in order, so many together. */
  readonly deflated: readonly Uint8Array[];
}

/** Filled tiles that are deflated together: 1 MB, so that a change of every layer needs no memory for all of them at once. */
const TOGETHER = 64;

/** Packs tiles without loss (deflate, 64 together). */
export function packTiles(tiles: readonly TileState[]): PackedTiles {
  const filled = tiles.flatMap((t) => (t.bytes ? [t.bytes] : []));
  const deflated: Uint8Array[] = [];
  for (let i = 0; i < filled.length; i += TOGETHER) {
    const group = filled.slice(i, i + TOGETHER);
    const raw = new Uint8Array(group.length * TILE_BYTES);
    group.forEach((bytes, k) => raw.set(bytes, k * TILE_BYTES));
    // The paint worker packs at the end of each stroke: it has to be quick.
    deflated.push(packTile(raw));
  }
  return { where: tiles.map(({ plane, tile, bytes }) => ({ plane, tile, empty: !bytes })), deflated };
}

/** The tiles again, in their order. */
export function unpackTiles({ where, deflated }: PackedTiles): TileState[] {
  let at = 0;
  let raw = new Uint8Array(0);
  return where.map(({ plane, tile, empty }) => {
    if (empty) return { plane, tile, bytes: null };
    const within = at % TOGETHER;
    if (within === 0) raw = inflateSync(deflated[at / TOGETHER]!);
    at++;
    return { plane, tile, bytes: raw.slice(within * TILE_BYTES, (within + 1) * TILE_BYTES) };
  });
}

/** Bytes that packed tiles take. */
export const packedBytes = ({ deflated }: PackedTiles): number =>
  deflated.reduce((sum, bytes) => sum + bytes.length, 0);
