import type { Picture } from '../formats';
import {
  filledTiles,
  codesOfTile,
  layersOfTile,
  SUB_TEXELS,
  TILE_TEXELS,
  type ChannelTiles,
} from '../surface';
import type { Dab } from './dab';
import type { StrokeKernels } from './stroke-kernels';
import type { StrokeRasterizer } from './stroke-rasterizer';
import type { Reach } from './reach';
import type { BrushedFields } from './stroke-fields';
import { ThroughCoverage, type TexelColors } from './through';

/** What a stroke is made with and on. */
export interface EffectSurface {
  readonly rasterizer: StrokeRasterizer;
  readonly kernels: StrokeKernels;
  readonly keepAlpha: boolean;
  readonly guard: Reach | null;
  /** The paint as it was before the stroke. */
  readonly plane: ChannelTiles;
  /** A picture of the project; null if it isn't there. */
  readonly picture: (id: number) => Picture | null;
}

/** How a tool makes paint of its dabs. */
export interface ToolEffect {
  /** Sub-tiles that it covers before any dab. */
  covers?(): Iterable<number>;
  /** @param touched receives the sub-tiles that change */
  dab(sheet: number, dab: Dab, touched: Set<number>): void;
  /** A tile with the stroke laid on it. @param before as it was before the stroke */
  paint(tile: number, before: Uint8Array, out: Uint8Array): void;
}

/**
 * Lays colours that are told texel by texel, through what the brush covers.
 *
 * @param all what is covered before any dab; undefined for nothing
 */
export function layThrough(
  { opacity, brush }: Pick<BrushedFields, 'opacity' | 'brush'>,
  { rasterizer, keepAlpha }: EffectSurface,
  colors: TexelColors,
  all?: Reach | null,
): ToolEffect {
  const paint = new ThroughCoverage(colors, { opacity: brush.builds ? 1 : opacity, keepAlpha });
  const area = all === undefined ? null : guardArea(rasterizer, all);
  return {
    ...(area && { covers: area.subs }),
    dab: (sheet, dab, touched) => rasterizer.dab(sheet, dab, touched),
    paint: (tile, before, out) => {
      const of = area ?? rasterizer;
      paint.paint(tile, before, of.coverageOf(tile), out, of.placesOf(tile));
    },
  };
}

export interface GuardArea {
  readonly subs: () => number[];
  readonly coverageOf: (tile: number) => readonly Float32Array[];
  /** See `StrokeRasterizer`. */
  readonly placesOf: (tile: number) => ((texel: number) => number) | null;
}

/** All that a guard lets through, as coverage. */
export function guardArea(rasterizer: StrokeRasterizer, guard: Reach | null): GuardArea {
  const covered = new Map<number, Covered>();
  return {
    subs: () => {
      if (guard) coverGuard(rasterizer, guard, covered);
      return [...covered.keys()].flatMap((tile) => [0, 1, 2, 3].map((k) => tile * 4 + k));
    },
    coverageOf: (tile) => covered.get(tile)?.subs ?? [],
    placesOf: (tile) => {
      const places = covered.get(tile)?.places;
      return places ? (texel) => places[texel]! : null;
    },
  };
}

/** What a guard lets through of a tile. */
interface Covered {
  readonly subs: readonly Float32Array[];
  /** The tile of the layer of places that is let through most, a texel; null where there is one layer. */
  readonly places: Int32Array | null;
}

function coverGuard({ surface }: StrokeRasterizer, guard: Reach, out: Map<number, Covered>): void {
  for (const tile of filledTiles(surface)) {
    const layers = layersOfTile(surface, tile);
    const values = new Float32Array(TILE_TEXELS);
    const places = layers.length > 1 ? new Int32Array(TILE_TEXELS).fill(tile) : null;
    let some = false;
    for (const layer of layers) {
      const codes = codesOfTile(surface, layer)!;
      for (let i = 0; i < TILE_TEXELS; i++) {
        if (codes[i]! < 0) continue;
        const through = guard.at(layer, i, codes[i]!) / 255;
        if (through <= values[i]!) continue;
        values[i] = through;
        if (places) places[i] = layer;
        some = true;
      }
    }
    if (!some) continue;
    const subs = [0, 1, 2, 3].map((k) => values.subarray(k * SUB_TEXELS, (k + 1) * SUB_TEXELS));
    out.set(tile, { subs, places });
  }
}
