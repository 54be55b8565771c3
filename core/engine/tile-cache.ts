/** Tiles are numbered below this, so that a node and a tile make one number. */
const TILES = 2 ** 21;

interface Entry<T> {
  readonly value: T;
  readonly bytes: number;
}

/** Keeps what was made a node and tile; what wasn't asked for longest goes when all together take more than the budget. */
export class TileCache<T> {
  private readonly entries = new Map<number, Entry<T>>();
  private readonly budget: number;
  private bytes = 0;

  constructor(budget: number) {
    this.budget = budget;
  }

  /** @param make called if it isn't there; tells the value and the bytes it takes */
  get(node: number, tile: number, make: () => readonly [value: T, bytes: number]): T {
    const key = node * TILES + tile;
    let entry = this.entries.get(key);
    if (entry) this.entries.delete(key);
    else {
      const [value, bytes] = make();
      entry = { value, bytes };
      this.bytes += bytes;
    }
    // At the end of the map is what was asked for last.
    this.entries.set(key, entry);
    for (const [oldest, { bytes }] of this.entries) {
      if (this.bytes <= this.budget || oldest === key) break;
      this.entries.delete(oldest);
      this.bytes -= bytes;
    }
    return entry.value;
  }

  /** Lets go of a node’s tile. */
  drop(node: number, tile: number): void {
    const key = node * TILES + tile;
    this.bytes -= this.entries.get(key)?.bytes ?? 0;
    this.entries.delete(key);
  }

  /** Lets go of all tiles of a node. */
  dropNode(node: number): void {
    for (const key of [...this.entries.keys()]) {
      if (Math.floor(key / TILES) === node) this.drop(node, key % TILES);
    }
  }

  /** Lets go of everything. */
  clear(): void {
    this.entries.clear();
    this.bytes = 0;
  }
}
