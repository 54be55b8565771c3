import { smoothstep } from '../math';
import type { Places } from '../surface';

/** One touch of the brush. Lengths in model units. */
export interface Dab {
  readonly x: number;
  readonly y: number;
  readonly z: number;
  /** Half its long side. */
  readonly radius: number;
  /** Coverage is `strength` up to here and falls to 0 at the radius. */
  readonly inner: number;
  /** 0..1 */
  readonly strength: number;
  /** What it lies on: unit normal of the surface under the brush, or the way to the eye. */
  readonly normal: readonly [x: number, y: number, z: number];
  /** Along its long side: unit, along the plane that the normal stands on. */
  readonly along: readonly [x: number, y: number, z: number];
  /** Texels that face away from this are left alone. Null: all are reached. */
  readonly facing: readonly [x: number, y: number, z: number] | null;
  /** Its picture is seen in a mirror: what lay to the left of `along` lies to the right. */
  readonly flipped: boolean;
  /** Which of its brush's shades it has; see `shadesOf`. */
  readonly shade: number;
  /** The way from the dab before it in the same run; null for the first. */
  readonly move: readonly [x: number, y: number, z: number] | null;
}

/** Cosines between a texel's normal and the dab's: nothing below the first, everything above the second. */
export const FACING_NONE = -0.1;
export const FACING_FULL = 0.25;

/** A sub-tile in the kernels' memory: 1024 texels of each. */
export interface RasterSlot extends Places {
  /** How much of the guard lets through: 0 nothing, 255 all. */
  readonly reach: Uint8Array;
  /** Coverage of the stroke in hand, 0..1. */
  readonly mask: Float32Array;
}

/**
 * Lays a dab of a plain round brush, a ball around a point of the surface, into a sub-tile's coverage; where dabs meet the larger value
 * stays, so that a stroke doesn't build up on itself. The plain twin of the kernel `dab`.
 *
 * @returns whether anything changed
 */
export function layDab(slot: RasterSlot, { x, y, z, radius, inner, strength, facing }: Dab): boolean {
  const { px, py, pz, nx, ny, nz, reach, mask } = slot;
  let changed = false;
  for (let i = 0; i < mask.length; i++) {
    if (reach[i] === 0) continue;
    const d = Math.hypot(px[i]! - x, py[i]! - y, pz[i]! - z);
    if (d >= radius) continue;
    let w = strength * smoothstep(0, 1, 1 - (d - inner) / (radius - inner)) * (reach[i]! / 255);
    if (facing) {
      const cos = (nx[i]! * facing[0] + ny[i]! * facing[1] + nz[i]! * facing[2]) / 32767;
      w *= smoothstep(FACING_NONE, FACING_FULL, cos);
    }
    if (w > mask[i]!) {
      mask[i] = w;
      changed = true;
    }
  }
  return changed;
}
