import type { MeshPlace } from '../mesh';
import { isCovered, PlaceReader, PlaneSampler, TILE_TEXELS, type SurfaceMap } from '../surface';

/** What carrying over has changed, over the painted texels: largest channel difference, 0..255. */
export interface CarryLoss {
  readonly mean: number;
  /** 99 of 100 painted places differ by no more. */
  readonly most: number;
  /** Places compared. */
  readonly places: number;
}

/** Places of the old sheet that are compared at the most. */
const COMPARED = 120_000;

/** Compares old texels with the new plane at the same places of the surface. @param out receives a difference a place */
export function collectDifferences(
  from: SurfaceMap,
  to: SurfaceMap,
  before: ReadonlyMap<number, Uint8Array>,
  after: ReadonlyMap<number, Uint8Array>,
  out: number[],
): void {
  const sampler = new PlaneSampler(to, after);
  const reader = new PlaceReader(from);
  const place: MeshPlace = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const stride = Math.max(1, Math.ceil((before.size * TILE_TEXELS) / COMPARED));
  for (const [tile, bytes] of before) {
    for (let k = 0; k < TILE_TEXELS; k += stride) {
      const texel = tile * TILE_TEXELS + k;
      const alpha = bytes[k * 4 + 3]! / 255;
      if (alpha === 0 || !isCovered(from, texel)) continue;
      reader.locate(texel, place);
      sampler.begin();
      sampler.add(place);
      const now = sampler.finish() ? sampler.rgba : null;
      let difference = Math.abs(alpha * 255 - (now?.[3] ?? 0));
      for (let c = 0; c < 3; c++) {
        const was = bytes[k * 4 + c]! * alpha;
        const is = now ? (now[c]! * now[3]!) / 255 : 0;
        difference = Math.max(difference, Math.abs(was - is));
      }
      out.push(difference);
    }
  }
}

/** Figures of differences, one a place (CIEDE2000). */
export function summarise(differences: readonly number[]): CarryLoss {
  const sorted = Float64Array.from(differences).sort();
  const n = sorted.length;
  return {
    mean: n ? sorted.reduce((a, b) => a + b, 0) / n : 0,
    most: n ? sorted[Math.min(n - 1, Math.floor(n * 0.99))]! : 0,
    places: n,
  };
}
