import { type Chart } from './chart';
import { neighbours } from './conformal';
import { cotangent, SHAPE, shapeArea } from './rest-shape';
import { nestedDissection, SparseBuilder, SparseLdl } from './sparse-ldl';

export interface RelaxOptions {
  /** Steps at the most. */
  readonly steps: number;
  /** It ends when a step lowers the energy by less than this part. */
  readonly tolerance: number;
  /** Vertices that stay where they are. */
  readonly held?: Uint8Array;
}

/** Steps whose change of slope is remembered. */
const MEMORY = 6;

/** A step goes at the most this far toward the point where the first triangle would fold. */
const SHY = 0.9;

/**
 * Relaxes a layout for area and angle at once: the symmetric Dirichlet energy |J|² + |J⁻¹|² of every triangle, weighted by its
 * area (J. Schreiner et al., "Inter-Surface Mapping", 2004; 4 where nothing is stretched). A quasi-Newton descent (L-BFGS)
 * that begins each step with the Laplacian of the surface, which spreads a change over the whole chart at once (Y. Zhu,
 * R. Bridson, D. Kaufman, "Blended Cured Quasi-Newton for Distortion Optimization", 2018). It never folds a triangle: steps end
 * before the first one would (J. Smith, S. Schaefer, "Bijective Parameterization with Free Boundaries", 2015).
 *
 * @param uv a layout without folds; receives the result
 * @returns the energy, mean over the area
 */
export function relaxLayout(
  chart: Chart,
  shapes: Float64Array,
  uv: Float64Array,
  { steps, tolerance, held }: RelaxOptions,
): number {
  const energy = new DirichletEnergy(chart, shapes);
  const ldl = laplacian(chart, shapes, energy.totalArea, held);
  const size = uv.length;
  const gradient = new Float64Array(size);
  const direction = new Float64Array(size);
  const trial = new Float64Array(size);
  const newGradient = new Float64Array(size);
  const moves: Float64Array[] = [];
  const changes: Float64Array[] = [];
  const products: number[] = [];
  const alphas = new Float64Array(MEMORY);
  const still = (g: Float64Array): void => {
    if (!held) return;
    for (let v = 0; v < held.length; v++) if (held[v]) g[v * 2] = g[v * 2 + 1] = 0;
  };
  if (!held) approachRigid(chart, shapes, energy, ldl, uv, steps);
  let value = energy.gradient(uv, gradient);
  still(gradient);
  for (let step = 0; step < steps; step++) {
    // Two-loop recursion (J. Nocedal, "Updating Quasi-Newton Matrices with Limited Storage", 1980).
    direction.set(gradient);
    for (let i = moves.length - 1; i >= 0; i--) {
      alphas[i] = dot(moves[i]!, direction) / products[i]!;
      addScaled(direction, changes[i]!, -alphas[i]!);
    }
    ldl.solvePairs(direction);
    for (let i = 0; i < moves.length; i++) {
      const beta = dot(changes[i]!, direction) / products[i]!;
      addScaled(direction, moves[i]!, alphas[i]! - beta);
    }
    let slope = -dot(gradient, direction);
    if (!(slope < 0)) {
      // The memory misleads: begin again with the Laplacian alone.
      moves.length = changes.length = products.length = 0;
      direction.set(gradient);
      ldl.solvePairs(direction);
      slope = -dot(gradient, direction);
      if (!(slope < 0)) break;
    }
    let length = Math.min(1, SHY * energy.firstFold(uv, direction));
    let next = Infinity;
    let tries = 0;
    for (; tries < 24; tries++, length /= 2) {
      for (let i = 0; i < size; i++) trial[i] = uv[i]! - length * direction[i]!;
      next = energy.value(trial);
      if (next <= value + 1e-4 * length * slope) break;
    }
    if (tries === 24) break;
    energy.gradient(trial, newGradient);
    still(newGradient);
    remember(length);
    const won = value - next;
    uv.set(trial);
    gradient.set(newGradient);
    value = next;
    if (won < tolerance * (value - 3.9)) break;
  }
  return value;

  function remember(length: number): void {
    const move = direction.map((d) => -length * d);
    const change = newGradient.map((g, i) => g - gradient[i]!);
    const product = dot(move, change);
    if (product <= 1e-14) return;
    moves.push(move);
    changes.push(change);
    products.push(product);
    if (moves.length <= MEMORY) return;
    moves.shift();
    changes.shift();
    products.shift();
  }
}

/** The rigid approach ends when a step wins less than this part. */
const RIGID_WIN = 0.02;

/**
 * The first steps from afar: every triangle is turned to where it lies best, and the layout that fits all of them is the aim of
 * the next step (L. Liu et al., "A Local/Global Approach to Mesh Parameterization", 2008). Taken only as far as nothing folds
 * and the energy falls. From a conformal map of a half ball it saves about 100 of the 120 steps that follow.
 */
function approachRigid(
  { indices }: Chart,
  shapes: Float64Array,
  energy: DirichletEnergy,
  ldl: SparseLdl,
  uv: Float64Array,
  steps: number,
): void {
  const weights = new Float64Array(indices.length);
  for (let c = 0; c < weights.length; c++) weights[c] = edgeWeight(shapes, c, energy.totalArea);
  const aim = new Float64Array(uv.length);
  const trial = new Float64Array(uv.length);
  let value = energy.value(uv);
  for (let step = 0; step < steps; step++) {
    aim.fill(0);
    for (let f = 0; f < indices.length / 3; f++) addTurned(indices, f, shapes, weights, uv, aim);
    ldl.solvePairs(aim);
    // The solver places the whole anywhere; only the shape counts.
    for (let i = 0; i < aim.length; i++) aim[i] = uv[i]! - aim[i]!;
    let length = Math.min(1, SHY * energy.firstFold(uv, aim));
    let next = Infinity;
    for (let tries = 0; tries < 6; tries++, length /= 2) {
      for (let i = 0; i < uv.length; i++) trial[i] = uv[i]! - length * aim[i]!;
      next = energy.value(trial);
      if (next < value) break;
    }
    if (!(next < value)) return;
    const won = value - next;
    uv.set(trial);
    value = next;
    if (won < RIGID_WIN * (value - 4)) return;
  }
}

/** Adds what triangle f asks of its corners when it is only turned: the right side of the Laplacian system. */
function addTurned(
  indices: Uint32Array,
  f: number,
  shapes: Float64Array,
  weights: Float64Array,
  uv: Float64Array,
  out: Float64Array,
): void {
  let re = 0;
  let im = 0;
  const o = f * SHAPE;
  for (let k = 0; k < 3; k++) {
    const i = ((k + 1) % 3) * 2;
    const j = ((k + 2) % 3) * 2;
    const w = weights[f * 3 + k]!;
    const x = shapes[o + i]! - shapes[o + j]!;
    const y = shapes[o + i + 1]! - shapes[o + j + 1]!;
    const vi = indices[f * 3 + i / 2]! * 2;
    const vj = indices[f * 3 + j / 2]! * 2;
    const u = uv[vi]! - uv[vj]!;
    const v = uv[vi + 1]! - uv[vj + 1]!;
    re += w * (u * x + v * y);
    im += w * (v * x - u * y);
  }
  const l = Math.hypot(re, im) || 1;
  for (let k = 0; k < 3; k++) {
    const i = ((k + 1) % 3) * 2;
    const j = ((k + 2) % 3) * 2;
    const w = weights[f * 3 + k]!;
    const x = shapes[o + i]! - shapes[o + j]!;
    const y = shapes[o + i + 1]! - shapes[o + j + 1]!;
    const vi = indices[f * 3 + i / 2]! * 2;
    const vj = indices[f * 3 + j / 2]! * 2;
    const rx = (w * (re * x - im * y)) / l;
    const ry = (w * (im * x + re * y)) / l;
    out[vi]! += rx;
    out[vi + 1]! += ry;
    out[vj]! -= rx;
    out[vj + 1]! -= ry;
  }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

function addScaled(a: Float64Array, b: Float64Array, k: number): void {
  for (let i = 0; i < a.length; i++) a[i]! += b[i]! * k;
}

/**
 * Curvature of the energy where nothing is stretched, in Laplacians of the surface: 8 across both ways at once, 4 along a
 * turn-free shear. The mean takes the fewest steps (measured with 4, 6 and 8 on the demo's otter: 41, 36, 38).
 */
const CURVATURE = 6;

/** Weight of the edge opposite corner c. Bounded: obtuse corners would make the matrix indefinite. */
const edgeWeight = (shapes: Float64Array, c: number, totalArea: number): number =>
  (Math.max(0.01, Math.min(100, cotangent(shapes, Math.floor(c / 3), c % 3))) * CURVATURE) / (2 * totalArea);

function laplacian(
  { positions, indices }: Chart,
  shapes: Float64Array,
  totalArea: number,
  held?: Uint8Array,
): SparseLdl {
  const n = positions.length / 3;
  const builder = new SparseBuilder(n, indices.length * 4 + n);
  for (let f = 0; f < indices.length / 3; f++) {
    for (let k = 0; k < 3; k++) {
      const w = edgeWeight(shapes, f * 3 + k, totalArea);
      const i = indices[f * 3 + ((k + 1) % 3)]!;
      const j = indices[f * 3 + ((k + 2) % 3)]!;
      builder.add(i, i, w);
      builder.add(j, j, w);
      if (held?.[i] || held?.[j]) continue;
      builder.add(i, j, -w);
      builder.add(j, i, -w);
    }
  }
  // Where nothing is held, moving the whole changes nothing: a trace on the diagonal keeps the matrix definite.
  for (let v = 0; v < n; v++) builder.add(v, v, 1e-7 / totalArea);
  const matrix = builder.finish();
  return new SparseLdl(matrix, nestedDissection(neighbours({ positions, indices }), positions));
}

/** The symmetric Dirichlet energy of a chart's layouts, mean over the area. */
class DirichletEnergy {
  readonly totalArea: number;
  private readonly indices: Uint32Array;
  /** The inverse of the edge matrix at rest: m00, m01, m10, m11 a triangle. */
  private readonly rest: Float64Array;
  private readonly weight: Float64Array;

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

  value(uv: Float64Array): number {
    const { indices, rest, weight } = this;
    let sum = 0;
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

  /** @param out receives the slope, uv a vertex @returns the value */
  gradient(uv: Float64Array, out: Float64Array): number {
    const { indices, rest, weight } = this;
    out.fill(0);
    let sum = 0;
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
