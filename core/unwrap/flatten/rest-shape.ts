import type { Chart } from '../segment/chart';

/** Numbers a triangle in `shapes`: xy of its three corners in a plane of its own, counter-clockwise. */
export const SHAPE = 6;

/**
 * A needle is treated as if it were at least this high, in parts of its longest edge: its corners then still have finite
 * cotangents (up to 10^4) that double precision bears.
 */
export const LEAST_HEIGHT = 1e-4;

/** Every triangle of a chart in its own plane, needles and points a little fattened. Model units. */
export function restShapes(chart: Chart): Float64Array {
  const { positions: p, indices } = chart;
  const faces = indices.length / 3;
  const out = new Float64Array(faces * SHAPE);
  const length = new Float64Array(3);
  let longest = 0;
  for (let f = 0; f < faces; f++) {
    // length[k]: the edge from corner k to the next.
    for (let k = 0; k < 3; k++) {
      const a = indices[f * 3 + k]! * 3;
      const b = indices[f * 3 + ((k + 1) % 3)]! * 3;
      const x = p[b]! - p[a]!;
      const y = p[b + 1]! - p[a + 1]!;
      const z = p[b + 2]! - p[a + 2]!;
      length[k] = Math.sqrt(x * x + y * y + z * z);
    }
    let base = 0;
    for (let k = 1; k < 3; k++) if (length[k]! > length[base]!) base = k;
    const l = length[base]!;
    longest = Math.max(longest, l);
    const toTip = length[(base + 2) % 3]!;
    const other = length[(base + 1) % 3]!;
    const x = l > 0 ? (l * l + toTip * toTip - other * other) / (2 * l) : 0;
    const y = Math.max(Math.sqrt(Math.max(0, toTip * toTip - x * x)), l * LEAST_HEIGHT);
    const o = f * SHAPE;
    out[o + ((base + 1) % 3) * 2] = l;
    out[o + ((base + 2) % 3) * 2] = x;
    out[o + ((base + 2) % 3) * 2 + 1] = y;
  }
  // Triangles that are a point: a speck, so that nothing is divided by zero.
  const speck = (longest || 1) * 1e-6;
  for (let o = 0; o < out.length; o += SHAPE) {
    if (out[o]! || out[o + 2]! || out[o + 4]!) continue;
    out.set([0, 0, speck, 0, speck / 2, speck], o);
  }
  return out;
}

/** Area of triangle f on the surface. */
export const shapeArea = (s: Float64Array, f: number): number => {
  const o = f * SHAPE;
  return ((s[o + 2]! - s[o]!) * (s[o + 5]! - s[o + 1]!) - (s[o + 3]! - s[o + 1]!) * (s[o + 4]! - s[o]!)) / 2;
};

/** Cotangent of the angle at corner k of triangle f. */
export function cotangent(s: Float64Array, f: number, k: number): number {
  const o = f * SHAPE;
  const c = o + k * 2;
  const a = o + ((k + 1) % 3) * 2;
  const b = o + ((k + 2) % 3) * 2;
  const ux = s[a]! - s[c]!;
  const uy = s[a + 1]! - s[c + 1]!;
  const vx = s[b]! - s[c]!;
  const vy = s[b + 1]! - s[c + 1]!;
  return (ux * vx + uy * vy) / (ux * vy - uy * vx);
}

/** Twice the signed area of triangle f in a layout: positive where it lies face up. */
export function doubledArea(indices: Uint32Array, uv: ArrayLike<number>, f: number): number {
  const a = indices[f * 3]! * 2;
  const b = indices[f * 3 + 1]! * 2;
  const c = indices[f * 3 + 2]! * 2;
  return (uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[b + 1]! - uv[a + 1]!) * (uv[c]! - uv[a]!);
}

/** Triangles that lie face down or have no area in a layout. */
export function foldedTriangles(chart: Chart, uv: ArrayLike<number>): number {
  let folded = 0;
  for (let f = 0; f < chart.indices.length / 3; f++) if (!(doubledArea(chart.indices, uv, f) > 0)) folded++;
  return folded;
}

/** Scales a layout so that it is as large as the surface. */
export function scaleToRest(chart: Chart, shapes: Float64Array, uv: Float64Array): void {
  let flat = 0;
  let solid = 0;
  for (let f = 0; f < chart.indices.length / 3; f++) {
    flat += Math.abs(doubledArea(chart.indices, uv, f)) / 2;
    solid += shapeArea(shapes, f);
  }
  const k = flat > 0 ? Math.sqrt(solid / flat) : 1;
  for (let i = 0; i < uv.length; i++) uv[i]! *= k;
}
