import { layDab, strokeTile } from '../paint';
import { layOnto, resolveTile } from '../stack';
import { TILE_TEXELS } from '../surface';
import type { Kernels } from './kernels';

/** The kernels in plain TypeScript: the reference for the WebAssembly ones. */
export function createPlainKernels(): Kernels {
  const acc = new Float32Array(TILE_TEXELS * 4);
  return {
    desk: (surface) => ({
      ...surface,
      mask: new Float32Array(surface.px.length),
      dirty: new Int32Array(surface.subBounds.length / 6),
    }),
    dab: (desk, dab) => layDab(desk, desk.mask, dab, desk.dirty),
    stroke: (desk, tile, before, out, paint) =>
      strokeTile(before, desk.mask.subarray(tile * TILE_TEXELS, (tile + 1) * TILE_TEXELS), out, paint),
    composite: (layers, out) => {
      acc.fill(0);
      for (const { tile, mode, opacity } of layers) layOnto(acc, tile, mode, opacity);
      resolveTile(acc, out);
    },
  };
}
