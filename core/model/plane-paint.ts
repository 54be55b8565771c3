import type { Stroke } from '../paint';
import type { TileState } from '../pixels';

/** A plane of pixels to be carried over. */
export interface ChannelPaint {
  readonly plane: number;
  readonly tiles: ReadonlyMap<number, Uint8Array>;
  /** What it was before `strokes`; null: it began empty. */
  readonly base: ReadonlyMap<number, Uint8Array> | null;
  /** The strokes that have made `tiles` of `base`. */
  readonly strokes: readonly Stroke[];
  /** All strokes of the plane, also those under the base. */
  readonly allStrokes: number;
}

/** A plane as it is on the new model. */
export interface CarriedChannel {
  readonly plane: number;
  /** Its filled tiles, and those of its base that differ from them. */
  readonly pixels: readonly TileState[];
  /** From which stroke on it lies on its base; null: it began empty, and all its strokes are on it. */
  readonly baseStrokes: number | null;
}
