import { LRUCache } from 'lru-cache';

/** Tiles are numbered below this, so that a node and a tile make one number. */
const TILES = 2 ** 21;

interface Entry<T> {
  readonly value: T;
  readonly bytes: number;
}

/** Keeps what was made a node and tile; what wasn't asked for longest goes when all together take more than the budget. */
export class TileCache<T> {
  private readonly entries: LRUCache<number, Entry<T>>;

  /** @param budget bytes; what takes more alone isn't kept */
  constructor(budget: number) {
    this.entries = new LRUCache({ maxSize: budget, sizeCalculation: ({ bytes }) => Math.max(1, bytes) });
  }

  /** @param make called if it isn't there; tells the value and the bytes it takes */
  get(node: number, tile: number, make: () => readonly [value: T, bytes: number]): T {
    const key = node * TILES + tile;
    const known = this.entries.get(key);
    if (known) return known.value;
    const [value, bytes] = make();
    this.entries.set(key, { value, bytes });
    return value;
  }

  /** Lets go of a node’s tile. */
  drop(node: number, tile: number): void {
    this.entries.delete(node * TILES + tile);
  }

  /** Lets go of all tiles of a node. */
  dropNode(node: number): void {
    for (const key of [...this.entries.keys()]) {
      if (Math.floor(key / TILES) === node) this.entries.delete(key);
    }
  }

  /** Lets go of everything. */
  clear(): void {
    this.entries.clear();
  }
}
