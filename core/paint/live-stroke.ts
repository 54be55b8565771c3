import type { Picture } from '../formats';
import { TILE_BYTES, type ChannelTiles } from '../surface';
import { DabWalker } from './dab-walker';
import { compose, IDENTITY, inverse, isMirror, placed, placeDirection, type Placing } from '../math';
import type { ToolEffect } from './tool-effect';
import { copyPlacer, type PlaceCopy } from './other-side';
import type { StrokeKernels } from './stroke-kernels';
import type { StrokeRasterizer } from './stroke-rasterizer';
import type { Reach } from './reach';
import { effectOf, roundSample, type Stroke, type StrokeStyle } from './stroke';
import { copyWays } from './symmetry';

interface LiveStrokeOptions {
  readonly style: StrokeStyle;
  /** Where the model stands now, seen from where it stood when the stroke was made; left out: where it was. */
  readonly placing?: Placing;
  readonly keepAlpha: boolean;
  /** Where it may come; null for everywhere. */
  readonly guard: Reach | null;
  readonly rasterizer: StrokeRasterizer;
  readonly kernels: StrokeKernels;
  /** What it is laid on, as it is at any time. */
  readonly plane: ChannelTiles;
  /** A picture of the project; left out: it has none. */
  readonly picture?: (id: number) => Picture | null;
}

/** A stroke, or one of its copies. */
interface Copy {
  /** From the samples' space to the model as it stands. */
  readonly placing: Placing;
  readonly place: PlaceCopy;
  /** One a sheet, each with dabs as fine as the sheet's own texels. */
  readonly walkers: readonly { readonly sheet: number; readonly walker: DabWalker }[];
}

/** A stroke while it is being made: coverage on the raster, the touched tiles as they were before. */
export class LiveStroke {
  /** The touched tiles as they were before; null where they were empty. */
  readonly before = new Map<number, Uint8Array | null>();
  /** Its samples so far, rounded as they are kept. */
  readonly runs: number[][] = [];
  private readonly rasterizer: StrokeRasterizer;
  private readonly effect: ToolEffect;
  private readonly copies: readonly Copy[];

  constructor(options: LiveStrokeOptions) {
    const { style, placing = IDENTITY, keepAlpha, rasterizer, kernels, plane } = options;
    const picture = options.picture ?? (() => null);
    this.rasterizer = rasterizer;
    this.copies = 'brush' in style ? copies(style, placing, rasterizer) : [];
    const asBefore: ChannelTiles = {
      get: (tile) => (this.before.has(tile) ? this.before.get(tile)! : plane.get(tile)) ?? undefined,
    };
    const guard = rasterizer.reaches.of(style, {
      guard: options.guard,
      copies: this.copies.length > 0 ? this.copies.map((copy) => copy.placing) : [placing],
      plane: asBefore,
    });
    rasterizer.begin(guard, 'brush' in style ? style.brush : undefined, picture);
    this.effect = effectOf(onModel(style, placing), {
      rasterizer,
      kernels,
      keepAlpha,
      guard,
      plane: asBefore,
      picture,
    });
  }

  /** What is covered before any sample. @returns the sub-tiles whose coverage changed */
  begin(): Set<number> {
    return new Set(this.effect.covers?.());
  }

  /** Lays the dabs of further samples. @returns the sub-tiles whose coverage changed */
  extend(samples: ArrayLike<number>, lift: boolean): Set<number> {
    const rounded = Array.from(samples, roundSample);
    const begins = lift || this.runs.length === 0;
    if (begins) this.runs.push([]);
    this.runs.at(-1)!.push(...rounded);
    const touched = new Set<number>();
    this.lay(rounded, begins, touched);
    return touched;
  }

  /** Makes a whole stroke again from its record. @returns the sub-tiles that it covers */
  replay(runs: Stroke['runs']): Set<number> {
    const touched = this.begin();
    for (const run of runs) this.lay(run, true, touched);
    for (const sub of this.lift()) touched.add(sub);
    return touched;
  }

  /** Lifts the brush: what waited for the way of the stroke is laid. @returns the sub-tiles whose coverage changed */
  lift(): Set<number> {
    const touched = new Set<number>();
    for (const { walkers } of this.copies) {
      for (const { sheet, walker } of walkers) {
        for (const dab of walker.lift()) this.effect.dab(sheet, dab, touched);
      }
    }
    return touched;
  }

  private lay(samples: readonly number[], begins: boolean, touched: Set<number>): void {
    for (const { place, walkers } of this.copies) {
      const placed = place(samples);
      for (const { sheet, walker } of walkers) {
        const dabs = begins ? walker.lift() : [];
        for (const dab of [...dabs, ...walker.walk(placed)]) this.effect.dab(sheet, dab, touched);
      }
    }
  }

  /** A tile with the stroke laid on it. @param present the tile now, undefined where it is empty */
  paint(tile: number, present: Uint8Array | undefined): Uint8Array {
    if (!this.before.has(tile)) this.before.set(tile, present ?? null);
    const out = new Uint8Array(TILE_BYTES);
    this.effect.paint(tile, this.before.get(tile) ?? EMPTY_TILE, out);
    return out;
  }

  /** Clears the raster for the next stroke. */
  end(): void {
    this.rasterizer.clear();
  }
}

/** A style whose places are those of the model as it stands. */
function onModel(style: StrokeStyle, placing: Placing): StrokeStyle {
  const back = inverse(placing);
  if (style.tool === 'through') return { ...style, view: compose(style.view, back) };
  if (style.tool !== 'copy') return style;
  const { from, whole } = style;
  return {
    ...style,
    from: compose(placing, compose(from, back)),
    whole: whole && {
      ...whole,
      point: placed(whole.point, placing),
      normal: placeDirection(whole.normal, placing),
    },
  };
}

function copies(
  style: Exclude<StrokeStyle, { tool: 'fill' }>,
  placing: Placing,
  rasterizer: StrokeRasterizer,
): Copy[] {
  return copyWays(style.symmetry).map((copy) => {
    const all = compose(placing, copy.placing);
    const own = {
      ...style,
      up: placeDirection(style.up, all),
      eye: placeDirection(style.eye, all),
    };
    return {
      placing: all,
      place: copyPlacer(style.symmetry, copy, placing, rasterizer),
      walkers: rasterizer.surface.sheets.flatMap(({ texelLength }, sheet) =>
        texelLength > 0 ? [{ sheet, walker: new DabWalker(own, texelLength, isMirror(all)) }] : [],
      ),
    };
  });
}

/** Shared by all who need a tile in which nothing is. Never written to. */
export const EMPTY_TILE = new Uint8Array(TILE_BYTES);
