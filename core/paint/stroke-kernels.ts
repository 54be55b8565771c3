import type { Dab, RasterSlot } from './dab';
import type { StrokePaint } from './stroke-tile';

/** The hot loops of making strokes. */
export interface StrokeKernels {
  /** Memory for one more sub-tile. */
  slot(): RasterSlot;
  /** @returns whether the dab changed anything */
  dab(slot: RasterSlot, dab: Dab): boolean;
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
