import { mainAxes, type Vec3 } from '../../math';
import type { InkSurface } from '../ink-surface';
import { bendsOf, spread } from './bends';

/** Rounds over which directions are evened out: where the form says little, what it says nearby holds. */
const ROUNDS = 24;

/**
 * The direction in which the form bends least, evened out so that strokes that follow it run side by side.
 *
 * @param radius what is finer is passed over, model units
 * @returns asked with a triangle, a direction of either sign; null where the form has none
 */
export function formField(ground: InkSurface, radius: number): (face: number) => Vec3 | null {
  const bends = bendsOf(ground, radius);
  const { welded, edges } = ground.topology;
  const { indices } = ground.mesh;
  let tensors = new Float64Array(bends.length * 6);
  const weights = Float64Array.from(bends, (bend) => (bend ? 1 : 0));
  bends.forEach((bend, v) => {
    if (!bend) return;
    const [most, least] = [Math.abs(bend.most), Math.abs(bend.least)];
    const d = most < least ? bend.mostWay : bend.leastWay;
    const clear = Math.abs(most - least);
    let o = v * 6;
    for (let i = 0; i < 3; i++) for (let j = i; j < 3; j++) tensors[o++] = clear * d[i]! * d[j]!;
  });
  for (let r = 0; r < ROUNDS; r++) tensors = spread(tensors, edges.ends, weights);
  return (face) => {
    const m: [number, number, number, number, number, number] = [0, 0, 0, 0, 0, 0];
    for (let k = 0; k < 3; k++) {
      const o = welded[indices[face * 3 + k]!]! * 6;
      for (let i = 0; i < 6; i++) m[i]! += tensors[o + i]!;
    }
    return m[0] + m[3] + m[5] > 0 ? mainAxes(m)[0] : null;
  };
}
