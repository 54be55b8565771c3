import type { CueSurface, Spots } from './cue-surface';
import { insetStart, type Casting } from './tile-caster';

/** A corner whose normal leans more than this over its triangle (60°) belongs to a hard edge that was shaded smooth, not to a round form. */
const ROUND = 0.5;

/**
 * Starts rays toward a light from the round form that smooth normals describe, so that the border of the shade doesn't follow flat
 * triangles (J. Hanika, "Hacking the Shadow Terminator", Ray Tracing Gems II, 2021). The horizon is that of the smooth normal.
 *
 * @param toward the light, length 1
 */
export function roundedStart(
  ground: CueSurface,
  [lx, ly, lz]: readonly [number, number, number],
): Casting['start'] {
  const inset = insetStart(ground);
  const { mesh, faceNormals } = ground;
  const { positions: p, normals: n, indices } = mesh;
  return (spots: Spots, i, tile, out, o) => {
    inset(spots, i, tile, out, o, 1);
    const f = spots.face[i]! * 3;
    const [x, y, z] = [out[o]!, out[o + 1]!, out[o + 2]!];
    const [fx, fy, fz] = [out[o + 6]!, out[o + 7]!, out[o + 8]!];
    // With a face wound the other way the normals show which side is meant.
    const isPlain = faceNormals[f] !== 0 || faceNormals[f + 1] !== 0 || faceNormals[f + 2] !== 0;
    let round = isPlain;
    for (let k = 0; k < 3 && round; k++) {
      const v = indices[f + k]! * 3;
      round = n[v]! * fx + n[v + 1]! * fy + n[v + 2]! * fz >= ROUND;
    }
    if (round) {
      for (let k = 0; k < 3; k++) {
        const v = indices[f + k]! * 3;
        const under = Math.min(
          0,
          (x - p[v]!) * n[v]! + (y - p[v + 1]!) * n[v + 1]! + (z - p[v + 2]!) * n[v + 2]!,
        );
        const w = spots.weights[i * 3 + k]!;
        if (w <= 0) continue;
        out[o] = out[o]! - w * under * n[v]!;
        out[o + 1] = out[o + 1]! - w * under * n[v + 1]!;
        out[o + 2] = out[o + 2]! - w * under * n[v + 2]!;
      }
      const { nx, ny, nz } = spots.places;
      const l = Math.hypot(nx[i]!, ny[i]!, nz[i]!) || 1;
      out[o + 6] = nx[i]! / l;
      out[o + 7] = ny[i]! / l;
      out[o + 8] = nz[i]! / l;
    }
    out[o + 3] = lx;
    out[o + 4] = ly;
    out[o + 5] = lz;
  };
}
