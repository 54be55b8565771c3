import { EMPTY_TILE } from '../paint';
import { TILE_BYTES } from '../surface';
import { packPixels, unpackPixels, type PackedTile, type TileState } from './tile-pack';

/** A tile is held as it is, packed, or (when it was unpacked to be looked at) both ways. */
interface Held {
  raw: Uint8Array | null;
  packed: Uint8Array | null;
}

/** Bytes that unpacked tiles may take where nothing else is said. */
const RAW_BYTES = 1.2e9;

/** Tiles that make room at once: packing them takes some 8 ms, and a stroke may be waiting. */
const AT_ONCE = 16;

/**
 * Pixels of all planes, tile by tile; an empty tile isn't there at all. Tiles are never changed in place: whoever changes one puts
 * another in its stead. What hasn't been used for longest is packed when those that are put take more than the budget.
 */
export class PixelStore {
  private readonly budget: number;
  private readonly onDamaged: (plane: number, tile: number) => void;
  private readonly planes = new Map<number, Map<number, Held>>();
  /** Tiles that are held as they are, the one used longest ago first. */
  private readonly recent = new Map<Held, null>();

  /**
   * @param budget bytes that unpacked tiles may take
   * @param onDamaged told of a packed tile that can't be unpacked: it counts as empty from then on
   */
  constructor(budget = RAW_BYTES, onDamaged: (plane: number, tile: number) => void = () => undefined) {
    this.budget = budget;
    this.onDamaged = onDamaged;
  }

  /** A tile’s bytes, unpacked; undefined where it is empty. */
  get(plane: number, tile: number): Uint8Array | undefined {
    const held = this.planes.get(plane)?.get(tile);
    if (!held) return undefined;
    if (held.raw) this.recent.delete(held);
    const raw = held.raw ?? unpackPixels(held.packed!, TILE_BYTES);
    if (!raw) {
      this.remove(plane, tile);
      this.onDamaged(plane, tile);
      return undefined;
    }
    // Looking at all tiles one after the other must not push out those that are in use: where there is no room, nothing is kept.
    if (held.raw || (this.recent.size + 1) * TILE_BYTES <= this.budget) {
      held.raw = raw;
      this.recent.set(held, null);
    }
    return raw;
  }

  /** Whether a tile is filled. */
  has(plane: number, tile: number): boolean {
    return this.planes.get(plane)?.has(tile) ?? false;
  }

  /** @param bytes null empties the tile; handed over: not to be changed any more */
  put({ plane, tile, bytes }: TileState): void {
    this.remove(plane, tile);
    if (!bytes) return;
    this.recent.set(this.hold(plane, tile, { raw: bytes, packed: null }), null);
    this.makeRoom();
  }

  /** Takes a tile as it was stored; it is unpacked when it is asked for. */
  putPacked({ plane, tile, packed }: PackedTile): void {
    this.remove(plane, tile);
    this.hold(plane, tile, { raw: null, packed });
  }

  private hold(plane: number, tile: number, held: Held): Held {
    const tiles = this.planes.get(plane);
    if (tiles) tiles.set(tile, held);
    else this.planes.set(plane, new Map([[tile, held]]));
    return held;
  }

  private remove(plane: number, tile: number): void {
    const tiles = this.planes.get(plane);
    const old = tiles?.get(tile);
    if (!old) return;
    this.recent.delete(old);
    tiles!.delete(tile);
    if (tiles!.size === 0) this.planes.delete(plane);
  }

  /** Numbers of a plane's filled tiles. */
  tiles(plane: number): readonly number[] {
    return [...(this.planes.get(plane)?.keys() ?? [])];
  }

  /** Every filled tile of a plane; one that can't be read counts as empty. */
  *states(plane: number): Iterable<TileState & { readonly bytes: Uint8Array }> {
    for (const tile of this.tiles(plane)) {
      const bytes = this.get(plane, tile);
      if (bytes) yield { plane, tile, bytes };
    }
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
    const wanted = Math.floor(this.budget / TILE_BYTES) - AT_ONCE;
    for (const held of this.recent.keys()) {
      // The newest stays in any case: it is in use.
      if (this.recent.size <= Math.max(1, wanted)) break;
      held.packed ??= packPixels(held.raw!);
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

/** Whether two tiles hold the same; one that isn't there is empty. */
export function sameTile(a: Uint8Array | null | undefined, b: Uint8Array | null | undefined): boolean {
  if (a === b || (!a && !b)) return true;
  if (!a || !b) return isEmptyTile((a ?? b)!);
  const [x, y] = [a, b].map((t) => new Uint32Array(t.buffer, t.byteOffset, t.length / 4)) as [
    Uint32Array,
    Uint32Array,
  ];
  return x.every((word, i) => word === y[i]);
}
