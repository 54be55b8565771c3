import type { RegionShape } from '../region';
import { PlaceReader, SUB_TEXELS, SubTileFinder, TILE_TEXELS, tileCount, type SurfaceMap } from '../surface';
import type { Dab, DeskSlot } from './dab';
import type { StrokePaint } from './stroke-tile';

/** The hot loops of making strokes. */
export interface StrokeKernels {
  /** Memory for one more sub-tile. */
  slot(): DeskSlot;
  /** @returns whether the dab changed anything */
  dab(slot: DeskSlot, dab: Dab): boolean;
  /**
   * One tile: `out` is `before` with the stroke laid on it.
   *
   * @param coverage of the tile's four sub-tiles, 0..1 a texel; null where the stroke hasn't come
   */
  stroke(
    before: Uint8Array,
    coverage: readonly (Float32Array | null)[],
    out: Uint8Array,
    paint: StrokePaint,
  ): void;
}

/** Sub-tiles that are held ready at the most: 23.5 KB each. */
const MOST_SLOTS = 1024;

interface Held {
  readonly slot: DeskSlot;
  sub: number;
  /** The stroke for which `reach` was reckoned. */
  stroke: number;
  covered: boolean;
}

/**
 * Where a stroke is made: the sub-tiles near the brush with their places in the kernels' memory, and the coverage of the stroke in
 * hand. What wasn't needed for longest makes room.
 */
export class PaintDesk {
  readonly surface: SurfaceMap;
  private readonly kernels: StrokeKernels;
  private readonly reader: PlaceReader;
  private readonly finder: SubTileFinder;
  private readonly held = new Map<number, Held>();
  /** Coverage of sub-tiles that had to make room. */
  private readonly parked = new Map<number, Float32Array>();
  private readonly found: number[] = [];
  private guard: RegionShape | null = null;
  private stroke = 0;

  constructor(surface: SurfaceMap, kernels: StrokeKernels) {
    this.surface = surface;
    this.kernels = kernels;
    this.reader = new PlaceReader(surface);
    this.finder = new SubTileFinder(surface.subBounds);
  }

  /** Begins a stroke. @param guard where it may come; null for everywhere */
  begin(guard: RegionShape | null): void {
    this.clear();
    // Reach that was reckoned for the same guard holds on.
    if (guard !== this.guard) this.stroke++;
    this.guard = guard;
  }

  /** Lays a dab on one sheet. @param touched receives the numbers of the sub-tiles whose coverage changed */
  dab(sheet: number, dab: Dab, touched: Set<number>): void {
    const { size, firstTile } = this.surface.sheets[sheet]!;
    const { found } = this;
    found.length = 0;
    this.finder.near(
      dab.x,
      dab.y,
      dab.z,
      dab.radius,
      firstTile * 4,
      (firstTile + tileCount(size)) * 4,
      found,
    );
    for (const sub of found) {
      const held = this.take(sub);
      if (!this.kernels.dab(held.slot, dab)) continue;
      held.covered = true;
      touched.add(sub);
    }
  }

  /** Coverage of a sub-tile, 0..1 a texel; null where the stroke hasn't come. To be read at once: it moves. */
  coverage(sub: number): Float32Array | null {
    const held = this.held.get(sub);
    return (held?.covered ? held.slot.mask : undefined) ?? this.parked.get(sub) ?? null;
  }

  /** Ends the stroke in hand: nothing is covered any more. */
  clear(): void {
    this.parked.clear();
    for (const held of this.held.values()) {
      if (!held.covered) continue;
      held.slot.mask.fill(0);
      held.covered = false;
    }
  }

  private take(sub: number): Held {
    let held = this.held.get(sub);
    if (held) this.held.delete(sub);
    else {
      held = this.free();
      held.sub = sub;
      held.stroke = -1;
      this.reader.readSub(sub, held.slot);
      const parked = this.parked.get(sub);
      if (parked) {
        held.slot.mask.set(parked);
        this.parked.delete(sub);
      } else held.slot.mask.fill(0);
      held.covered = parked !== undefined;
    }
    // At the end of the map is what was used last.
    this.held.set(sub, held);
    if (held.stroke !== this.stroke) this.reckonReach(held);
    return held;
  }

  private free(): Held {
    const [oldest] = this.held.values();
    if (this.held.size < MOST_SLOTS || !oldest) {
      return { slot: this.kernels.slot(), sub: -1, stroke: -1, covered: false };
    }
    this.held.delete(oldest.sub);
    if (oldest.covered) this.parked.set(oldest.sub, oldest.slot.mask.slice());
    return oldest;
  }

  private reckonReach(held: Held): void {
    const { codes, slotOfTile } = this.surface;
    const from = slotOfTile[held.sub >> 2]! * TILE_TEXELS + (held.sub & 3) * SUB_TEXELS;
    const { reach } = held.slot;
    const { guard } = this;
    const tile = held.sub >> 2;
    const first = (held.sub & 3) * SUB_TEXELS;
    for (let i = 0; i < SUB_TEXELS; i++) {
      const code = codes[from + i]!;
      reach[i] = code < 0 ? 0 : guard ? guard.at(tile, first + i, code) : 255;
    }
    held.stroke = this.stroke;
  }
}
