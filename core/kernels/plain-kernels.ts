import { compositePlain } from '../composite';
import { layDab, strokeTile } from '../paint';
import { placesFor, SUB_TEXELS } from '../surface';
import type { Kernels } from './kernels';

/** The kernels in plain TypeScript: the reference for the WebAssembly ones. */
export function createPlainKernels(): Kernels {
  return {
    slot: () => ({
      ...placesFor(SUB_TEXELS),
      reach: new Uint8Array(SUB_TEXELS),
      mask: new Float32Array(SUB_TEXELS),
    }),
    dab: layDab,
    stroke: (before, coverage, out, paint) => {
      coverage.forEach((mask, sub) => {
        const part = (bytes: Uint8Array): Uint8Array =>
          bytes.subarray(sub * SUB_TEXELS * 4, (sub + 1) * SUB_TEXELS * 4);
        if (mask) strokeTile(part(before), mask, part(out), paint);
        else part(out).set(part(before));
      });
    },
    composite: compositePlain,
  };
}
