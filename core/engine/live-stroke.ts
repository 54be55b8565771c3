import { hexToRgb } from '../color';
import type { Kernels, PaintDesk } from '../kernels';
import { DabWalker, roundSample, type Stroke, type StrokePaint, type StrokeStyle } from '../paint';
import { TILE_BYTES, TILE_TEXELS } from '../surface';
import type { TileState } from './tile-pack';

interface LiveStrokeOptions {
  readonly layer: number;
  readonly style: StrokeStyle;
  /** Number of the style's part, -1 for any. */
  readonly part: number;
  readonly desk: PaintDesk;
  readonly kernels: Kernels;
  readonly texelLength: number;
}

/** A stroke while it is being made: coverage on the desk, the touched tiles as they were before. */
export class LiveStroke {
  readonly layer: number;
  private readonly options: LiveStrokeOptions;
  private readonly walker: DabWalker;
  private readonly paintOf: StrokePaint;
  private readonly before = new Map<number, Uint8Array | null>();
  private readonly runs: number[][] = [];

  constructor(options: LiveStrokeOptions) {
    this.options = options;
    this.layer = options.layer;
    const { style } = options;
    this.walker = new DabWalker(style, options.part, options.texelLength);
    this.paintOf = { color: hexToRgb(style.color), opacity: style.opacity, erase: style.erase };
  }

  /** Lays the dabs of further samples. @returns the tiles whose coverage changed */
  extend(samples: ArrayLike<number>, lift: boolean): Set<number> {
    const { desk, kernels } = this.options;
    const rounded = Array.from(samples, roundSample);
    if (lift || this.runs.length === 0) {
      this.runs.push([]);
      this.walker.lift();
    }
    this.runs.at(-1)!.push(...rounded);
    const tiles = new Set<number>();
    for (const dab of this.walker.walk(rounded)) {
      const changed = kernels.dab(desk, dab);
      for (let k = 0; k < changed; k++) tiles.add(desk.dirty[k]! >> 2);
    }
    return tiles;
  }

  /** A tile with the stroke laid on it. @param present the tile now, undefined where it is empty */
  paint(tile: number, present: Uint8Array | undefined): Uint8Array {
    if (!this.before.has(tile)) this.before.set(tile, present ?? null);
    const out = new Uint8Array(TILE_BYTES);
    const { kernels, desk } = this.options;
    kernels.stroke(desk, tile, this.before.get(tile) ?? EMPTY_TILE, out, this.paintOf);
    return out;
  }

  /** Clears the desk. @returns the touched tiles as they were before */
  finish(): TileState[] {
    for (const tile of this.before.keys()) {
      this.options.desk.mask.fill(0, tile * TILE_TEXELS, (tile + 1) * TILE_TEXELS);
    }
    return [...this.before].map(([tile, bytes]) => ({ layer: this.layer, tile, bytes }));
  }

  stroke(): Stroke {
    return { ...this.options.style, runs: this.runs };
  }
}

const EMPTY_TILE = new Uint8Array(TILE_BYTES);
