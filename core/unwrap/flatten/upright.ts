import { cross, normalize, sub, type Vec3 } from '../../math';
import type { Chart } from '../segment/chart';
import { doubledArea } from './rest-shape';

/** Below this part of a piece's slope that it could have at most, up is no direction in it: a floor, a sole. */
const LEVEL = 0.2;

/**
 * The turn, radians, after which a piece stands on the sheet as on the model: what is higher lies higher. Where the piece lies level, its
 * front points upward. Model y is up, z toward the viewer.
 *
 * @param uv of every vertex of the chart, nothing folded
 */
export function uprightTurn(chart: Chart, uv: Float64Array): number {
  const up = meanSlope(chart, uv, 1);
  const [u, v] = Math.hypot(...up) >= LEVEL ? up : meanSlope(chart, uv, 2);
  return Math.hypot(u, v) < 1e-9 ? 0 : Math.PI / 2 - Math.atan2(v, u);
}

/** Turns a layout about the origin. */
export function turned(uv: Float64Array, angle: number): Float64Array {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const out = new Float64Array(uv.length);
  for (let i = 0; i < uv.length; i += 2) {
    out[i] = uv[i]! * cos - uv[i + 1]! * sin;
    out[i + 1] = uv[i]! * sin + uv[i + 1]! * cos;
  }
  return out;
}

/** What looks to the front counts most; what doesn't, this part of it. */
const BEHIND = 0.15;

/**
 * How one coordinate of the surface changes over the layout, mean over the area, for the most part of what looks to the front: 1 where the surface
 * runs straight along it.
 */
function meanSlope({ positions: p, indices }: Chart, uv: Float64Array, axis: 1 | 2): [number, number] {
  const at = (w: number): Vec3 => [p[w * 3]!, p[w * 3 + 1]!, p[w * 3 + 2]!];
  let [u, v, total] = [0, 0, 0];
  for (let f = 0; f < indices.length / 3; f++) {
    const [a, b, c] = [indices[f * 3]!, indices[f * 3 + 1]!, indices[f * 3 + 2]!];
    const [s, t] = [sub(at(b), at(a)), sub(at(c), at(a))];
    const weight = BEHIND + Math.max(0, normalize(cross(s, t), [0, 0, 0])[2]);
    const area = weight * doubledArea(indices, uv, f);
    const [h1, h2] = [weight * s[axis], weight * t[axis]];
    const [u1, v1] = [uv[b * 2]! - uv[a * 2]!, uv[b * 2 + 1]! - uv[a * 2 + 1]!];
    const [u2, v2] = [uv[c * 2]! - uv[a * 2]!, uv[c * 2 + 1]! - uv[a * 2 + 1]!];
    // The gradient times the doubled area: no triangle is divided by.
    u += h1 * v2 - h2 * v1;
    v += h2 * u1 - h1 * u2;
    total += area;
  }
  return total > 0 ? [u / total, v / total] : [0, 0];
}
