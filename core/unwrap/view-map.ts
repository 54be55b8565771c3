import type { Chart } from './chart';
import { doubledArea, restShapes, shapeArea } from './rest-shape';

/** A triangle seen at more than this angle (its cosine) is too slim a start. */
const LEAST_COSINE = 0.15;

/**
 * The chart as it is seen along the mean of its normals.
 *
 * @returns uv a vertex; null if some triangle is seen from behind or nearly from the side
 */
export function viewMap(chart: Chart, shapes: Float64Array = restShapes(chart)): Float64Array | null {
  const { positions: p, indices } = chart;
  let nx = 0;
  let ny = 0;
  let nz = 0;
  for (let c = 0; c < indices.length; c += 3) {
    const a = indices[c]! * 3;
    const b = indices[c + 1]! * 3;
    const d = indices[c + 2]! * 3;
    const ux = p[b]! - p[a]!;
    const uy = p[b + 1]! - p[a + 1]!;
    const uz = p[b + 2]! - p[a + 2]!;
    const vx = p[d]! - p[a]!;
    const vy = p[d + 1]! - p[a + 1]!;
    const vz = p[d + 2]! - p[a + 2]!;
    nx += uy * vz - uz * vy;
    ny += uz * vx - ux * vz;
    nz += ux * vy - uy * vx;
  }
  const l = Math.hypot(nx, ny, nz);
  if (!(l > 0)) return null;
  nx /= l;
  ny /= l;
  nz /= l;
  // Two axes across the normal (T. Duff et al., "Building an Orthonormal Basis, Revisited", 2017).
  const s = nz >= 0 ? 1 : -1;
  const a = -1 / (s + nz);
  const b = nx * ny * a;
  const uv = new Float64Array((p.length / 3) * 2);
  for (let v = 0; v < p.length / 3; v++) {
    const x = p[v * 3]!;
    const y = p[v * 3 + 1]!;
    const z = p[v * 3 + 2]!;
    uv[v * 2] = (1 + s * nx * nx * a) * x + s * b * y - s * nx * z;
    uv[v * 2 + 1] = b * x + (s + ny * ny * a) * y - ny * z;
  }
  for (let f = 0; f < indices.length / 3; f++) {
    if (!(doubledArea(indices, uv, f) / 2 > LEAST_COSINE * shapeArea(shapes, f))) return null;
  }
  return uv;
}
