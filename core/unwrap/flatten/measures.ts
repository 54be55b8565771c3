import type { Chart } from '../segment/chart';
import { doubledArea, LEAST_HEIGHT, restShapes, SHAPE, shapeArea } from './rest-shape';

/** How far a layout is from lying flat without stretch. Scale is taken out: a layout of any size is judged by its shape. */
export interface Distortion {
  /** L² stretch (P. Sander et al., "Texture Mapping Progressive Meshes", 2001); 1 at best. */
  readonly stretchL2: number;
  /** L∞ stretch: the greatest of all; 1 at best. Triangles that lie face down or have no area, there or on the surface, are left out. */
  readonly stretchLinf: number;
  /** Mean over the area of (σ₁/σ₂ + σ₂/σ₁) / 2; 1 where angles are kept. */
  readonly angle: number;
  /** Mean over the area of (d + 1/d) / 2 with d the density against the mean; 1 where areas are kept. */
  readonly area: number;
  /** Triangles that lie face down. */
  readonly flipped: number;
}

/** The two stretches of triangle f from the surface to the layout, the larger first. A face-down triangle's second is negative. */
export function singularValues(
  indices: Uint32Array,
  shapes: Float64Array,
  uv: ArrayLike<number>,
  f: number,
): readonly [number, number] {
  const o = f * SHAPE;
  const x1 = shapes[o + 2]! - shapes[o]!;
  const y1 = shapes[o + 3]! - shapes[o + 1]!;
  const x2 = shapes[o + 4]! - shapes[o]!;
  const y2 = shapes[o + 5]! - shapes[o + 1]!;
  const det = x1 * y2 - x2 * y1;
  const i = indices[f * 3]! * 2;
  const j = indices[f * 3 + 1]! * 2;
  const k = indices[f * 3 + 2]! * 2;
  const u1 = uv[j]! - uv[i]!;
  const v1 = uv[j + 1]! - uv[i + 1]!;
  const u2 = uv[k]! - uv[i]!;
  const v2 = uv[k + 1]! - uv[i + 1]!;
  const a = (u1 * y2 - u2 * y1) / det;
  const b = (u2 * x1 - u1 * x2) / det;
  const c = (v1 * y2 - v2 * y1) / det;
  const d = (v2 * x1 - v1 * x2) / det;
  // Half sum and half difference of the singular values (closed form for 2 x 2).
  const sum = Math.hypot(a + d, c - b) / 2;
  const difference = Math.hypot(a - d, c + b) / 2;
  return [sum + difference, sum - difference];
}

/** Whether a triangle was a needle before its shape was fattened. */
function isNeedle(s: Float64Array, f: number): boolean {
  const o = f * SHAPE;
  let longest = 0;
  for (let k = 0; k < 3; k++) {
    const n = (k + 1) % 3;
    longest = Math.max(
      longest,
      (s[o + n * 2]! - s[o + k * 2]!) ** 2 + (s[o + n * 2 + 1]! - s[o + k * 2 + 1]!) ** 2,
    );
  }
  return shapeArea(s, f) <= (longest * LEAST_HEIGHT * 1.001) / 2;
}

/** @param uv of every vertex of the chart */
export function measureDistortion(chart: Chart, uv: ArrayLike<number>): Distortion {
  const shapes = restShapes(chart);
  return measureShapes(chart.indices, shapes, uv);
}

/** The same over triangles whose shapes are known. */
export function measureShapes(indices: Uint32Array, shapes: Float64Array, uv: ArrayLike<number>): Distortion {
  const faces = indices.length / 3;
  let solid = 0;
  let flat = 0;
  let flipped = 0;
  for (let f = 0; f < faces; f++) {
    const area = doubledArea(indices, uv, f) / 2;
    solid += shapeArea(shapes, f);
    flat += Math.abs(area);
    if (area < 0) flipped++;
  }
  const density = flat > 0 ? Math.sqrt(flat / solid) : 1;
  let squares = 0;
  let worst = 0;
  let angle = 0;
  let areas = 0;
  let weight = 0;
  for (let f = 0; f < faces; f++) {
    const [big, second] = singularValues(indices, shapes, uv, f);
    const small = Math.abs(second);
    const a = shapeArea(shapes, f);
    // What has no area in the layout would be stretched without end; it is counted as folded, not here.
    if (!(small > 1e-9 * density)) continue;
    // A needle has no width that could be stretched: its shape was fattened.
    if (isNeedle(shapes, f)) continue;
    // Sander's stretch runs from the layout to the surface: the inverse of these.
    const g1 = density / small;
    const g2 = density / big;
    squares += a * ((g1 * g1 + g2 * g2) / 2);
    worst = Math.max(worst, g1);
    angle += (a * (big / small + small / big)) / 2;
    const d = (big * small) / (density * density);
    areas += (a * (d + 1 / d)) / 2;
    weight += a;
  }
  if (weight === 0)
    return { stretchL2: Infinity, stretchLinf: Infinity, angle: Infinity, area: Infinity, flipped };
  return {
    stretchL2: Math.sqrt(squares / weight),
    stretchLinf: worst,
    angle: angle / weight,
    area: areas / weight,
    flipped,
  };
}
