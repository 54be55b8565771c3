import { smoothstep } from '../math';
import { SUB_TEXELS, type SurfaceMap } from '../surface';

/** One touch of the brush: a ball around a point of the surface. Lengths in model units. */
export interface Dab {
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly radius: number;
  /** Coverage is `strength` up to here and falls to 0 at the radius. */
  readonly inner: number;
  /** 0..1 */
  readonly strength: number;
  /** Unit normal of the surface under the brush: texels that face away from it are left alone. Null: all are reached. */
  readonly facing: readonly [x: number, y: number, z: number] | null;
  /** The only part reached; -1 for any. */
  readonly part: number;
}

/** Cosines between a texel's normal and the dab's: nothing below the first, everything above the second. */
export const FACING_NONE = -0.1;
export const FACING_FULL = 0.25;

/**
 * Lays one dab into the stroke's coverage; where dabs meet the larger value stays, so that a stroke doesn't build up on
 * itself. The plain twin of the kernel `dab`.
 *
 * @param mask coverage 0..1 a texel, tiled order
 * @param dirty receives the numbers of the sub-tiles that changed
 * @returns how many sub-tiles changed
 */
export function layDab(
  map: Pick<SurfaceMap, 'px' | 'py' | 'pz' | 'nx' | 'ny' | 'nz' | 'part' | 'subBounds'>,
  mask: Float32Array,
  dab: Dab,
  dirty: Int32Array,
): number {
  const { x, y, z, radius, inner, strength, facing, part } = dab;
  const bounds = map.subBounds;
  let found = 0;
  for (let s = 0; s < bounds.length / 6; s++) {
    const b = s * 6;
    const ex = Math.max(bounds[b]! - x, x - bounds[b + 3]!, 0);
    const ey = Math.max(bounds[b + 1]! - y, y - bounds[b + 4]!, 0);
    const ez = Math.max(bounds[b + 2]! - z, z - bounds[b + 5]!, 0);
    if (ex * ex + ey * ey + ez * ez > radius * radius) continue;
    let changed = false;
    for (let i = s * SUB_TEXELS; i < (s + 1) * SUB_TEXELS; i++) {
      if (part >= 0 && map.part[i] !== part) continue;
      const d = Math.hypot(map.px[i]! - x, map.py[i]! - y, map.pz[i]! - z);
      if (d >= radius) continue;
      let w = strength * smoothstep(0, 1, 1 - (d - inner) / (radius - inner));
      if (facing) {
        const cos = (map.nx[i]! * facing[0] + map.ny[i]! * facing[1] + map.nz[i]! * facing[2]) / 32767;
        w *= smoothstep(FACING_NONE, FACING_FULL, cos);
      }
      if (w > mask[i]!) {
        mask[i] = w;
        changed = true;
      }
    }
    if (changed) dirty[found++] = s;
  }
  return found;
}
