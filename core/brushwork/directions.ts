import { broadCurvature } from '../cues';
import { normalize, type Vec3 } from '../math';
import type { Mesh } from '../mesh';
import type { Brushwork } from './brushwork';
import type { Scatter } from './scatter';

/** What is around a place when a stroke's direction is asked for is this many times its length. */
const AROUND = 0.6;

/**
 * The directions in which strokes lie, unit vectors along the surface.
 *
 * @param length of a stroke, model units
 * @returns xyz each
 */
export function strokeDirections(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  { count, positions: p, normals: n }: Scatter,
  { along, direction }: Brushwork,
  length: number,
): Float32Array {
  const out = new Float32Array(count * 3);
  const toward = normalize(direction);
  const form = along === 'form' ? broadCurvature(mesh, length * AROUND) : null;
  for (let i = 0; i < count; i++) {
    const normal: Vec3 = [n[i * 3]!, n[i * 3 + 1]!, n[i * 3 + 2]!];
    const place: Vec3 = [p[i * 3]!, p[i * 3 + 1]!, p[i * 3 + 2]!];
    const wish =
      along === 'down'
        ? ([0, -1, 0] as const)
        : along === 'form'
          ? (form?.direction(place, normal) ?? around(normal, [0, 1, 0]))
          : // Around the axis, and where the light's strength stays the same: square to both.
            around(normal, toward);
    out.set(onSurface(wish, normal), i * 3);
  }
  return out;
}

const around = (n: Vec3, axis: Vec3): Vec3 => [
  axis[1] * n[2] - axis[2] * n[1],
  axis[2] * n[0] - axis[0] * n[2],
  axis[0] * n[1] - axis[1] * n[0],
];

/** A direction laid onto the surface; where it stands square to it, any. */
function onSurface(d: Vec3, n: Vec3): Vec3 {
  const out = d[0] * n[0] + d[1] * n[1] + d[2] * n[2];
  const t: Vec3 = [d[0] - out * n[0], d[1] - out * n[1], d[2] - out * n[2]];
  const l = Math.hypot(...t);
  if (l > 1e-3 * Math.hypot(...d)) return [t[0] / l, t[1] / l, t[2] / l];
  return normalize(Math.abs(n[1]) < 0.9 ? around(n, [0, 1, 0]) : around(n, [1, 0, 0]));
}
