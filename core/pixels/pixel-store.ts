import { deflateSync, inflateSync } from 'fflate';
import { EMPTY_TILE } from '../paint';
import { TILE_BYTES } from '../surface';
import type { TileState } from './tile-pack';

/** A tile is held as it is, packed, or (when it was unpacked to be looked at) both ways. */
interface Held {
  raw: Uint8Array | null;
  packed: Uint8Array | null;
}

/** How much of the budget is freed at once, so that packing isn't begun anew for every tile. */
const SLACK = 0.05;

/**
 * Pixels of all planes, tile by tile; an empty tile isn't there at all. Tiles are never changed in place: whoever changes one puts
 * another in its stead. What hasn't been used for longest is packed when all together take more than the budget.
 */
export class PixelStore {
  private readonly budget: number;
  private readonly planes = new Map<number, Map<number, Held>>();
  /** Tiles that are held as they are, the one used longest ago first. */
  private readonly recent = new Map<Held, null>();

  /** @param budget bytes that unpacked tiles may take */
  constructor(budget = 1.2e9) {
    this.budget = budget;
  }

  /** A tile’s bytes, unpacked; undefined where it is empty. */
  get(plane: number, tile: number): Uint8Array | undefined {
    const held = this.planes.get(plane)?.get(tile);
    if (!held) return undefined;
    if (held.raw) this.recent.delete(held);
    else held.raw = inflateSync(held.packed!, { out: new Uint8Array(TILE_BYTES) });
    const { raw } = held;
    this.recent.set(held, null);
    this.makeRoom();
    return raw;
  }

  /** Whether a tile is filled. */
  has(plane: number, tile: number): boolean {
    return this.planes.get(plane)?.has(tile) ?? false;
  }

  /** @param bytes null empties the tile; handed over: not to be changed any more */
  put({ plane, tile, bytes }: TileState): void {
    const tiles = this.planes.get(plane);
    const old = tiles?.get(tile);
    if (old) this.recent.delete(old);
    if (!bytes) {
      tiles?.delete(tile);
      if (tiles?.size === 0) this.planes.delete(plane);
      return;
    }
    const held: Held = { raw: bytes, packed: null };
    if (tiles) tiles.set(tile, held);
    else this.planes.set(plane, new Map([[tile, held]]));
    this.recent.set(held, null);
    this.makeRoom();
  }

  /** Numbers of a plane's filled tiles. */
  tiles(plane: number): readonly number[] {
    return [...(this.planes.get(plane)?.keys() ?? [])];
  }

  /** Every filled tile of a plane. */
  *states(plane: number): Iterable<TileState & { readonly bytes: Uint8Array }> {
    for (const tile of this.tiles(plane)) yield { plane, tile, bytes: this.get(plane, tile)! };
  }

  /** Planes with at least one filled tile. */
  planeNumbers(): readonly number[] {
    return [...this.planes.keys()];
  }

  /** Bytes that the tiles take, packed or not. */
  get bytes(): number {
    let sum = 0;
    for (const tiles of this.planes.values()) {
      for (const { raw, packed } of tiles.values()) sum += (raw?.length ?? 0) + (packed?.length ?? 0);
    }
    return sum;
  }

  private makeRoom(): void {
    if (this.recent.size * TILE_BYTES <= this.budget) return;
    const wanted = Math.floor((this.budget * (1 - SLACK)) / TILE_BYTES);
    for (const held of this.recent.keys()) {
      // The newest stays in any case: it is in use.
      if (this.recent.size <= Math.max(1, wanted)) break;
      held.packed ??= deflateSync(held.raw!, { level: 1 });
      held.raw = null;
      this.recent.delete(held);
    }
  }
}

/** Whether nothing is in a tile. */
export function isEmptyTile(bytes: Uint8Array): boolean {
  if (bytes === EMPTY_TILE) return true;
  const words = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4);
  return words.every((w) => w === 0);
}
