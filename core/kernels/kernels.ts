import type { CompositeOptions, CompositeStep, Snapshot } from '../composite';
import type { StrokeKernels } from '../paint';

/** The hot loops of painting, as WebAssembly or as plain TypeScript. */
export interface Kernels extends StrokeKernels {
  /**
   * Composites one tile and writes the result as straight-alpha RGBA, 8 or 16 bit as `out` holds.
   *
   * @returns what `options.keepAfter` asked for
   */
  composite(
    steps: readonly CompositeStep[],
    out: Uint8Array | Uint16Array,
    options?: CompositeOptions,
  ): Snapshot | null;
}
