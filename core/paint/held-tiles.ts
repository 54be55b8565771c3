import { cellularNoise, ridgedNoise, smoothstep, valueNoise, type Vec3 } from '../math';
import { centreOf, diagonalOf, subjectBounds } from '../mesh';
import {
  NOWHERE,
  PlaceReader,
  placeOfTile,
  spannedTiles,
  SUB,
  SUB_TEXELS,
  TILE_TEXELS,
  type SurfaceMap,
} from '../surface';
import { hasShades, type BrushShape } from './brush';
import type { RasterSlot } from './dab';
import type { Reach } from './reach';
import type { StrokeKernels } from './stroke-kernels';
import type { TipSlot } from './tip-dab';

/** Sub-tiles that are held ready at the most: 23.5 KB each. */
const MOST_SLOTS = 1024;

export interface Held {
  readonly slot: RasterSlot;
  sub: number;
  /** The stroke for which `reach` was reckoned. */
  stroke: number;
  covered: boolean;
  /** Which shade each texel has. */
  shades: Uint8Array | null;
  /** What of the grain of that name shows, 0..1 a texel. */
  grain: { readonly name: string; readonly values: Float32Array } | null;
  /** All that tips read of it. */
  tip: TipSlot | null;
}

type Grain = NonNullable<BrushShape['grain']>;

/** A brush passes over many texels at a time: two octaves are as fine as it needs. */
const OCTAVES = 2;

const NOISES = { value: valueNoise, ridged: ridgedNoise, cellular: cellularNoise } as const;

/**
 * The sub-tiles near the brush with their places in the kernels' memory, and the coverage of the stroke in hand. What wasn't needed for
 * longest makes room.
 */
export class HeldTiles {
  private readonly surface: SurfaceMap;
  private readonly kernels: StrokeKernels;
  private readonly reader: PlaceReader;
  private readonly held = new Map<number, Held>();
  /** Coverage of sub-tiles that had to make room. */
  private readonly parked = new Map<
    number,
    { readonly mask: Float32Array; readonly shades: Uint8Array | null }
  >();
  private readonly centre: Vec3;
  private readonly diagonal: number;
  private guard: Reach | null = null;
  private stroke = 0;
  /** Sub-tiles of one layer of places, and of all. */
  private readonly step: number;
  private readonly subs: number;

  constructor(surface: SurfaceMap, kernels: StrokeKernels, reader: PlaceReader) {
    this.surface = surface;
    this.kernels = kernels;
    this.reader = reader;
    this.step = spannedTiles(surface.sheets) * 4;
    this.subs = surface.slotOfTile.length * 4;
    const bounds = subjectBounds(surface.mesh);
    this.centre = centreOf(bounds);
    this.diagonal = diagonalOf(bounds);
  }

  /** Begins a stroke. @param guard where it may come; null for everywhere */
  begin(guard: Reach | null): void {
    this.clear();
    // Reach that was reckoned for the same guard holds on.
    if (guard !== this.guard) this.stroke++;
    this.guard = guard;
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

  /**
   * Coverage of a sub-tile, 0..1 a texel, that of the place which is covered most where texels have several; null where the stroke hasn't
   * come. To be read at once: it moves.
   */
  coverage(sub: number): Float32Array | null {
    if (sub + this.step >= this.subs) return this.coverageOfLayer(sub);
    const layers: Float32Array[] = [];
    for (let s = sub; s < this.subs; s += this.step) {
      const own = this.coverageOfLayer(s);
      if (own) layers.push(own);
    }
    if (layers.length < 2) return layers[0] ?? null;
    const most = layers[0]!.slice();
    for (const own of layers.slice(1))
      for (let i = 0; i < most.length; i++) most[i] = Math.max(most[i]!, own[i]!);
    return most;
  }

  private coverageOfLayer(sub: number): Float32Array | null {
    const held = this.held.get(sub);
    return (held?.covered ? held.slot.mask : undefined) ?? this.parked.get(sub)?.mask ?? null;
  }

  /** The sub-tile, of whichever layer of places, whose place is covered most at a texel. */
  mostCovered(sub: number, texel: number): number {
    let most = -1;
    let best = sub;
    for (let s = sub; s < this.subs; s += this.step) {
      const covered = this.coverageOfLayer(s)?.[texel] ?? 0;
      if (covered > most) [most, best] = [covered, s];
    }
    return best;
  }

  /** Which shade a texel of a sub-tile has, where the stroke has come; see `shadesOf`. */
  shade(sub: number, texel: number): number {
    const own = this.mostCovered(sub, texel);
    const held = this.held.get(own);
    const shades = (held?.covered ? held.shades : undefined) ?? this.parked.get(own)?.shades;
    return shades?.[texel] ?? 0;
  }

  /** A sub-tile with its places, and what holds the stroke back on it. */
  take(sub: number): Held {
    let held = this.held.get(sub);
    if (held) this.held.delete(sub);
    else {
      held = this.free();
      held.sub = sub;
      held.stroke = -1;
      held.grain = held.shades = held.tip = null;
      this.reader.readSub(sub, held.slot);
      const parked = this.parked.get(sub);
      if (parked) {
        held.slot.mask.set(parked.mask);
        held.shades = parked.shades;
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
      return {
        slot: this.kernels.slot(),
        sub: -1,
        stroke: -1,
        covered: false,
        shades: null,
        grain: null,
        tip: null,
      };
    }
    this.held.delete(oldest.sub);
    if (oldest.covered) {
      this.parked.set(oldest.sub, { mask: oldest.slot.mask.slice(), shades: oldest.shades });
    }
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

  /** All that a brush's tip reads of a sub-tile. */
  tipSlot(held: Held, brush: BrushShape): TipSlot {
    const grain = brush.grain && this.grainOf(held, brush.grain);
    const shades = hasShades(brush) ? (held.shades ??= new Uint8Array(SUB_TEXELS)) : null;
    // Made once a sub-tile: a large dab asks for hundreds.
    if (held.tip?.grain === grain && held.tip.shades === shades) return held.tip;
    const { codes, slotOfTile } = this.surface;
    const from = slotOfTile[held.sub >> 2]! * TILE_TEXELS + (held.sub & 3) * SUB_TEXELS;
    const [, x, y] = this.originOf(held.sub);
    held.tip = { ...held.slot, codes: codes.subarray(from, from + SUB_TEXELS), grain, shades, x, y };
    return held.tip;
  }

  /** The sheet on which a sub-tile lies, and its first texel there. */
  private originOf(sub: number): [sheet: number, x: number, y: number] {
    const { sheet, x, y } = placeOfTile(this.surface.sheets, sub >> 2);
    return [sheet, x + (sub & 1) * SUB, y + ((sub >> 1) & 1) * SUB];
  }

  /** Held with the sub-tile as long as the brush has the same grain. */
  private grainOf(held: Held, grain: Grain): Float32Array {
    const name = `${grain.kind} ${grain.scale} ${grain.depth}`;
    if (held.grain?.name === name) return held.grain.values;
    const values = held.grain?.values ?? new Float32Array(SUB_TEXELS);
    const noise = NOISES[grain.kind];
    const k = this.diagonal > 0 ? grain.scale / this.diagonal : 0;
    const [cx, cy, cz] = this.centre;
    const { px, py, pz } = held.slot;
    for (let i = 0; i < SUB_TEXELS; i++) {
      const n =
        px[i]! >= NOWHERE ? 0 : noise((px[i]! - cx) * k, (py[i]! - cy) * k, (pz[i]! - cz) * k, 3, OCTAVES);
      values[i] = 1 - grain.depth * (1 - smoothstep(0.3, 0.7, n));
    }
    held.grain = { name, values };
    return values;
  }
}
