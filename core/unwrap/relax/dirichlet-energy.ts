import type { Chart } from '../segment/chart';
import { SHAPE, shapeArea } from '../flatten/rest-shape';

/** The symmetric Dirichlet energy of a chart's layouts, mean over the area. */
export class DirichletEnergy {
  readonly totalArea: number;
  private readonly indices: Uint32Array;
  /** The inverse of the edge matrix at rest: m00, m01, m10, m11 a triangle. */
  private readonly rest: Float64Array;
  private readonly weight: Float64Array;
  /** Vertices that are drawn somewhere: vertex, u, v. */
  private pulls: Float64Array = new Float64Array(0);
  private strength = 0;

  constructor(chart: Chart, shapes: Float64Array) {
    const faces = chart.indices.length / 3;
    this.indices = chart.indices;
    this.rest = new Float64Array(faces * 4);
    this.weight = new Float64Array(faces);
    let total = 0;
    for (let f = 0; f < faces; f++) {
      const o = f * SHAPE;
      const x1 = shapes[o + 2]! - shapes[o]!;
      const y1 = shapes[o + 3]! - shapes[o + 1]!;
      const x2 = shapes[o + 4]! - shapes[o]!;
      const y2 = shapes[o + 5]! - shapes[o + 1]!;
      const det = x1 * y2 - x2 * y1;
      this.rest[f * 4] = y2 / det;
      this.rest[f * 4 + 1] = -x2 / det;
      this.rest[f * 4 + 2] = -y1 / det;
      this.rest[f * 4 + 3] = x1 / det;
      this.weight[f] = shapeArea(shapes, f);
      total += this.weight[f]!;
    }
    this.totalArea = total;
    for (let f = 0; f < faces; f++) this.weight[f]! /= total;
  }

  /** Counts a triangle as if it were so many times as large, at least as much as the mean one. */
  emphasise(f: number, times: number): void {
    this.weight[f] = Math.max(this.weight[f]!, 1 / this.weight.length) * times;
  }

  /** Draws vertices to places. @param strength for a squared unit of distance, as the mean triangle's energy weighs; 0 lets go */
  pull(places: ReadonlyMap<number, readonly [number, number]> | null, strength: number): void {
    this.pulls = Float64Array.from([...(places ?? [])].flatMap(([v, [x, y]]) => [v, x, y]));
    this.strength = strength / this.weight.length;
  }

  private pulled(uv: Float64Array, out: Float64Array | null): number {
    const { pulls, strength } = this;
    let sum = 0;
    for (let i = 0; i < pulls.length; i += 3) {
      const v = pulls[i]! * 2;
      const [x, y] = [uv[v]! - pulls[i + 1]!, uv[v + 1]! - pulls[i + 2]!];
      sum += strength * (x * x + y * y);
      if (!out) continue;
      out[v]! += 2 * strength * x;
      out[v + 1]! += 2 * strength * y;
    }
    return sum;
  }

  value(uv: Float64Array): number {
    const { indices, rest, weight } = this;
    let sum = this.pulled(uv, null);
    for (let f = 0; f < weight.length; f++) {
      const i = indices[f * 3]! * 2;
      const j = indices[f * 3 + 1]! * 2;
      const k = indices[f * 3 + 2]! * 2;
      const u1 = uv[j]! - uv[i]!;
      const v1 = uv[j + 1]! - uv[i + 1]!;
      const u2 = uv[k]! - uv[i]!;
      const v2 = uv[k + 1]! - uv[i + 1]!;
      const m = f * 4;
      const a = u1 * rest[m]! + u2 * rest[m + 2]!;
      const b = u1 * rest[m + 1]! + u2 * rest[m + 3]!;
      const c = v1 * rest[m]! + v2 * rest[m + 2]!;
      const d = v1 * rest[m + 1]! + v2 * rest[m + 3]!;
      const det = a * d - b * c;
      if (det <= 0) return Infinity;
      sum += weight[f]! * (a * a + b * b + c * c + d * d) * (1 + 1 / (det * det));
    }
    return sum;
  }

  /** @param out receives the slope, uv a vertex @returns the value; Infinity, and no slope, where a triangle is folded */
  gradient(uv: Float64Array, out: Float64Array): number {
    const { indices, rest, weight } = this;
    out.fill(0);
    let sum = this.pulled(uv, out);
    for (let f = 0; f < weight.length; f++) {
      const i = indices[f * 3]! * 2;
      const j = indices[f * 3 + 1]! * 2;
      const k = indices[f * 3 + 2]! * 2;
      const u1 = uv[j]! - uv[i]!;
      const v1 = uv[j + 1]! - uv[i + 1]!;
      const u2 = uv[k]! - uv[i]!;
      const v2 = uv[k + 1]! - uv[i + 1]!;
      const m = f * 4;
      const m0 = rest[m]!;
      const m1 = rest[m + 1]!;
      const m2 = rest[m + 2]!;
      const m3 = rest[m + 3]!;
      const a = u1 * m0 + u2 * m2;
      const b = u1 * m1 + u2 * m3;
      const c = v1 * m0 + v2 * m2;
      const d = v1 * m1 + v2 * m3;
      const det = a * d - b * c;
      if (det <= 0) return Infinity;
      const norm = a * a + b * b + c * c + d * d;
      const inverse = 1 / det;
      const w = weight[f]!;
      sum += w * norm * (1 + inverse * inverse);
      const p = 2 * w * (1 + inverse * inverse);
      const q = 2 * w * norm * inverse * inverse * inverse;
      const ga = p * a - q * d;
      const gb = p * b + q * c;
      const gc = p * c + q * b;
      const gd = p * d - q * a;
      const gu1 = ga * m0 + gb * m1;
      const gu2 = ga * m2 + gb * m3;
      const gv1 = gc * m0 + gd * m1;
      const gv2 = gc * m2 + gd * m3;
      out[j]! += gu1;
      out[k]! += gu2;
      out[i]! -= gu1 + gu2;
      out[j + 1]! += gv1;
      out[k + 1]! += gv2;
      out[i + 1]! -= gv1 + gv2;
    }
    return sum;
  }

  /** How far the layout can go against `direction` until the first triangle has no area; Infinity if none ever has. */
  firstFold(uv: Float64Array, direction: Float64Array): number {
    const { indices, weight } = this;
    let first = Infinity;
    for (let f = 0; f < weight.length; f++) {
      const i = indices[f * 3]! * 2;
      const j = indices[f * 3 + 1]! * 2;
      const k = indices[f * 3 + 2]! * 2;
      const u1 = uv[j]! - uv[i]!;
      const v1 = uv[j + 1]! - uv[i + 1]!;
      const u2 = uv[k]! - uv[i]!;
      const v2 = uv[k + 1]! - uv[i + 1]!;
      const s1 = direction[i]! - direction[j]!;
      const t1 = direction[i + 1]! - direction[j + 1]!;
      const s2 = direction[i]! - direction[k]!;
      const t2 = direction[i + 1]! - direction[k + 1]!;
      // Area along the way: a t² + b t + c.
      const a = s1 * t2 - s2 * t1;
      const b = u1 * t2 + s1 * v2 - u2 * t1 - s2 * v1;
      const c = u1 * v2 - u2 * v1;
      const t = firstRoot(a, b, c);
      if (t < first) first = t;
    }
    return first;
  }
}

/** The smallest positive root of a t² + b t + c with c > 0; Infinity if there is none. */
function firstRoot(a: number, b: number, c: number): number {
  const disc = b * b - 4 * a * c;
  if (disc < 0) return Infinity;
  // Without cancellation: 2c over the larger of both.
  const q = -b + (b < 0 ? 1 : -1) * Math.sqrt(disc);
  const t1 = q !== 0 ? (2 * c) / q : Infinity;
  const t2 = a !== 0 ? q / (2 * a) : Infinity;
  const lower = Math.min(t1 > 0 ? t1 : Infinity, t2 > 0 ? t2 : Infinity);
  return lower;
}
