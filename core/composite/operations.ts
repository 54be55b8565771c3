import type { BlendMode } from './blend-modes';

/** Colours 0..1 of some texels, sRGB-encoded, not multiplied by alpha. */
export interface ColorChannels {
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
}

/** What a layer has on one tile, in tile order. */
export type TileSource =
  /** Straight-alpha RGBA, 8 bit a channel. */
  | { readonly form: 'rgba8'; readonly bytes: Uint8Array }
  /** Straight-alpha RGBA, 16 bit a channel (65535 = 1). */
  | { readonly form: 'rgba16'; readonly words: Uint16Array }
  /** One opaque colour, channels 0..1. */
  | { readonly form: 'color'; readonly color: readonly [r: number, g: number, b: number] };

/** How something is laid on what lies below. */
export interface ToolEffect {
  readonly mode: BlendMode;
  /** 0..1 */
  readonly opacity: number;
  /** 65535 = all of it, a texel; null: all of it everywhere. */
  readonly mask: Uint16Array | null;
  /** Clipped: it colours what lies below in its group and leaves alpha as it is. */
  readonly clip: boolean;
}

/**
 * A step of compositing one tile. A build-up becomes a flat list of them; `push` and `pop` stand in pairs and may be nested.
 */
export type CompositeStep =
  | ({ readonly do: 'lay'; readonly source: TileSource } & ToolEffect)
  /** Changes the colours that lie below, through `mode`, `opacity` and `mask`; alpha stays. */
  | ({ readonly do: 'adjust'; readonly adjust: (colors: ColorChannels) => void } & ToolEffect)
  /**
   * Begins a group. `through`: what lies below shows through to its layers (W3C: not isolated); if not, they are composited by
   * themselves first.
   */
  | { readonly do: 'push'; readonly through: boolean }
  /** Lays the group on what was there before it; of one that let through only opacity and mask count. */
  | ({ readonly do: 'pop'; readonly through: boolean } & ToolEffect);

/** Accumulators part-way through a list of steps: one for each open group, the lowest first. */
export interface Snapshot {
  /** Steps that it holds the result of. */
  readonly steps: number;
  /** Which sub-tiles it holds, bit k for sub-tile k. */
  readonly subs: number;
  /** Planar, premultiplied: 4 sub-tiles of 4096 numbers (1024 red, green, blue, alpha) an accumulator. */
  readonly accumulators: readonly Float32Array[];
}

export interface CompositeOptions {
  /** Sub-tiles that are wanted, bit k for sub-tile k; the others stay as they are in `out`. All where left out. */
  readonly subs?: number;
  /** Where to begin instead of at the bottom. */
  readonly from?: Snapshot | null;
  /** Keep what has come about after so many steps. */
  readonly keepAfter?: number;
}

/** All four sub-tiles of a tile. */
export const ALL_SUBS = 15;

/** How many groups are open after the first `steps` steps. */
export function openGroups(list: readonly CompositeStep[], steps: number): number {
  let open = 0;
  for (let i = 0; i < steps; i++) {
    if (list[i]!.do === 'push') open++;
    else if (list[i]!.do === 'pop') open--;
  }
  return open;
}
