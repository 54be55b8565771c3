import { hexToRgb } from '../color';
import type { RegionShape } from '../region';
import { TILE_BYTES } from '../surface';
import { DabWalker } from './dab-walker';
import { IDENTITY, placeDirection, placeSamples, type Placing } from './frame';
import type { PaintDesk, StrokeKernels } from './paint-desk';
import { roundSample, type Stroke, type StrokeStyle } from './stroke';
import type { StrokePaint } from './stroke-tile';

interface LiveStrokeOptions {
  readonly style: StrokeStyle;
  /** Where the model stands now, seen from where it stood when the stroke was made; left out: where it was. */
  readonly placing?: Placing;
  readonly keepAlpha: boolean;
  /** Where it may come; null for everywhere. */
  readonly guard: RegionShape | null;
  readonly desk: PaintDesk;
  readonly kernels: StrokeKernels;
}

/** A stroke while it is being made: coverage on the desk, the touched tiles as they were before. */
export class LiveStroke {
  /** The touched tiles as they were before; null where they were empty. */
  readonly before = new Map<number, Uint8Array | null>();
  /** Its samples so far, rounded as they are kept. */
  readonly runs: number[][] = [];
  private readonly options: LiveStrokeOptions;
  private readonly paintOf: StrokePaint;
  /** One a sheet, each with dabs as fine as the sheet's own texels. */
  private readonly walkers: readonly { readonly sheet: number; readonly walker: DabWalker }[];

  constructor(options: LiveStrokeOptions) {
    this.options = options;
    const { desk, guard, keepAlpha, placing = IDENTITY } = options;
    const style = {
      ...options.style,
      up: placeDirection(options.style.up, placing),
      eye: placeDirection(options.style.eye, placing),
    };
    const { brush, color, erase } = style;
    this.walkers = desk.surface.sheets.flatMap(({ texelLength }, sheet) =>
      texelLength > 0 ? [{ sheet, walker: new DabWalker(style, texelLength) }] : [],
    );
    this.paintOf = { color: hexToRgb(color), opacity: brush.builds ? 1 : style.opacity, erase, keepAlpha };
    desk.begin(guard, brush);
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
    const touched = new Set<number>();
    const { placing = IDENTITY } = this.options;
    for (const run of runs) this.lay(placeSamples(run, placing), true, touched);
    for (const sub of this.lift()) touched.add(sub);
    return touched;
  }

  /** Lifts the brush: what waited for the way of the stroke is laid. @returns the sub-tiles whose coverage changed */
  lift(): Set<number> {
    const touched = new Set<number>();
    for (const { sheet, walker } of this.walkers) {
      for (const dab of walker.lift()) this.options.desk.dab(sheet, dab, touched);
    }
    return touched;
  }

  private lay(samples: ArrayLike<number>, begins: boolean, touched: Set<number>): void {
    const { desk } = this.options;
    for (const { sheet, walker } of this.walkers) {
      const dabs = begins ? walker.lift() : [];
      for (const dab of [...dabs, ...walker.walk(samples)]) desk.dab(sheet, dab, touched);
    }
  }

  /** A tile with the stroke laid on it. @param present the tile now, undefined where it is empty */
  paint(tile: number, present: Uint8Array | undefined): Uint8Array {
    if (!this.before.has(tile)) this.before.set(tile, present ?? null);
    const out = new Uint8Array(TILE_BYTES);
    const { kernels, desk } = this.options;
    const coverage = [0, 1, 2, 3].map((k) => desk.coverage(tile * 4 + k));
    kernels.stroke(this.before.get(tile) ?? EMPTY_TILE, coverage, out, this.paintOf);
    return out;
  }

  /** Clears the desk for the next stroke. */
  end(): void {
    this.options.desk.clear();
  }
}

/** Shared by all who need a tile in which nothing is. Never written to. */
export const EMPTY_TILE = new Uint8Array(TILE_BYTES);
