import { CoreError } from '../errors';
import { add, cross, dot, normalize, sub, type Vec3 } from '../math';
import { solveSpd, sparseFromEntries } from './linear';

/** A piece of surface with one border: vertices of its own, no vertex twice in one place. */
export interface Chart {
  /** xyz a vertex. */
  readonly positions: Float32Array;
  /** Three vertices a triangle. */
  readonly indices: Uint32Array;
}

/**
 * Flattens a disc by as-rigid-as-possible relaxation (Liu et al., "A Local/Global Approach to Mesh Parameterization", 2008),
 * begun from the view along the mean normal, which suits caps and strips; if that folds, from a convex embedding that can't
 * fold (W. T. Tutte, "How to draw a graph", 1963), which is kept as it is if relaxing it folds too.
 *
 * @param rounds of relaxation
 * @returns uv a vertex, in the chart's own units, nothing folded
 * @throws CoreError `bad-argument` if the chart is not a disc
 */
export function flattenChart(chart: Chart, rounds = 24): Float64Array {
  const border = borderLoop(chart);
  const fromView = relax(chart, viewAlongNormal(chart), rounds);
  if (foldedTriangles(chart, fromView) === 0) return fromView;
  const convex = convexEmbedding(chart, border);
  scaleToArea(chart, convex);
  const relaxed = relax(chart, convex, rounds);
  return foldedTriangles(chart, relaxed) === 0 ? relaxed : convex;
}

/** The chart seen along the sum of its triangles' normals. */
function viewAlongNormal({ positions: p, indices }: Chart): Float64Array {
  let sum: Vec3 = [0, 0, 0];
  const at = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  for (let f = 0; f < indices.length; f += 3) {
    const a = at(indices[f]!);
    sum = add(sum, cross(sub(at(indices[f + 1]!), a), sub(at(indices[f + 2]!), a)));
  }
  const n = normalize(sum);
  const u = normalize(Math.abs(n[1]) < 0.9 ? cross([0, 1, 0], n) : cross([0, 0, 1], n));
  const v = cross(n, u);
  const out = new Float64Array((p.length / 3) * 2);
  for (let i = 0; i < p.length / 3; i++) {
    out[i * 2] = dot(at(i), u);
    out[i * 2 + 1] = dot(at(i), v);
  }
  return out;
}

/** Triangles that lie face down or have no area in a layout. */
export function foldedTriangles(chart: Chart, uv: ArrayLike<number>): number {
  let folded = 0;
  for (let f = 0; f < chart.indices.length; f += 3) if (signedArea(chart, uv, f) <= 0) folded++;
  return folded;
}

function signedArea({ indices }: Chart, uv: ArrayLike<number>, f: number): number {
  const a = indices[f]! * 2;
  const b = indices[f + 1]! * 2;
  const c = indices[f + 2]! * 2;
  return ((uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[b + 1]! - uv[a + 1]!) * (uv[c]! - uv[a]!)) / 2;
}

/** The border's vertices in order, counter-clockwise. */
function borderLoop({ indices }: Chart): number[] {
  const next = new Map<number, number>();
  const edges = new Set<string>();
  for (let c = 0; c < indices.length; c++) {
    edges.add(`${indices[c]} ${indices[c % 3 === 2 ? c - 2 : c + 1]}`);
  }
  for (const edge of edges) {
    const [a, b] = edge.split(' ');
    if (!edges.has(`${b} ${a}`)) next.set(Number(a), Number(b));
  }
  const first = next.keys().next().value;
  if (first === undefined)
    throw new CoreError('bad-argument', 'A closed surface can’t be flattened; it needs a seam.');
  const loop = [first];
  for (let v = next.get(first); v !== first; v = next.get(v)) {
    if (v === undefined || loop.length > next.size) break;
    loop.push(v);
  }
  if (loop.length !== next.size) {
    throw new CoreError('bad-argument', 'The piece has more than one border; it needs a seam between them.');
  }
  return loop;
}

const edgeLength = (p: Float32Array, a: number, b: number): number =>
  Math.hypot(p[b * 3]! - p[a * 3]!, p[b * 3 + 1]! - p[a * 3 + 1]!, p[b * 3 + 2]! - p[a * 3 + 2]!);

/** Angle at corner k of triangle f. */
function angleAt({ positions: p, indices }: Chart, f: number, k: number): number {
  const o = indices[f + k]!;
  const a = indices[f + ((k + 1) % 3)]!;
  const b = indices[f + ((k + 2) % 3)]!;
  const la = edgeLength(p, o, a);
  const lb = edgeLength(p, o, b);
  const lc = edgeLength(p, a, b);
  const cos = (la * la + lb * lb - lc * lc) / (2 * la * lb);
  return Math.acos(Math.min(1, Math.max(-1, Number.isFinite(cos) ? cos : 0)));
}

function convexEmbedding(chart: Chart, border: readonly number[]): Float64Array {
  const { positions: p, indices } = chart;
  const count = p.length / 3;
  const uv = new Float64Array(count * 2);
  const total = border.reduce((sum, v, i) => sum + edgeLength(p, v, border[(i + 1) % border.length]!), 0);
  let along = 0;
  border.forEach((v, i) => {
    const angle = (along / total) * 2 * Math.PI;
    uv[v * 2] = Math.cos(angle);
    uv[v * 2 + 1] = Math.sin(angle);
    along += edgeLength(p, v, border[(i + 1) % border.length]!);
  });
  const fixed = new Uint8Array(count);
  for (const v of border) fixed[v] = 1;
  // Symmetric positive weights: nothing folds within a convex border, and conjugate gradients apply.
  const weights = new Map<string, number>();
  for (let f = 0; f < indices.length; f += 3) {
    for (let k = 0; k < 3; k++) {
      const a = indices[f + k]!;
      const b = indices[f + ((k + 1) % 3)]!;
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      weights.set(key, 1 / Math.max(edgeLength(p, a, b), 1e-9));
    }
  }
  const entries: [number, number, number][] = [];
  const right = [new Float64Array(count), new Float64Array(count)];
  for (let v = 0; v < count; v++) {
    if (!fixed[v]) continue;
    entries.push([v, v, 1]);
    right[0]![v] = uv[v * 2]!;
    right[1]![v] = uv[v * 2 + 1]!;
  }
  for (const [key, w] of weights) {
    const [a, b] = key.split(' ').map(Number) as [number, number];
    for (const [i, j] of [
      [a, b],
      [b, a],
    ] as const) {
      if (fixed[i]) continue;
      entries.push([i, i, w]);
      if (fixed[j]) {
        right[0]![i]! += w * uv[j * 2]!;
        right[1]![i]! += w * uv[j * 2 + 1]!;
      } else entries.push([i, j, -w]);
    }
  }
  solveBoth(entries, right, uv);
  return uv;
}

function solveBoth(
  entries: readonly [number, number, number][],
  right: Float64Array[],
  uv: Float64Array,
): void {
  const count = uv.length / 2;
  const matrix = sparseFromEntries(count, entries);
  for (let axis = 0; axis < 2; axis++) {
    const x = Float64Array.from({ length: count }, (_, v) => uv[v * 2 + axis]!);
    solveSpd(matrix, right[axis]!, x);
    for (let v = 0; v < count; v++) uv[v * 2 + axis] = x[v]!;
  }
}

function scaleToArea(chart: Chart, uv: Float64Array): void {
  let flat = 0;
  let solid = 0;
  for (let f = 0; f < chart.indices.length; f += 3) {
    flat += Math.abs(signedArea(chart, uv, f));
    const la = edgeLength(chart.positions, chart.indices[f]!, chart.indices[f + 1]!);
    const lb = edgeLength(chart.positions, chart.indices[f]!, chart.indices[f + 2]!);
    solid += (la * lb * Math.sin(angleAt(chart, f, 0))) / 2;
  }
  const k = flat > 0 ? Math.sqrt(solid / flat) : 1;
  for (let i = 0; i < uv.length; i++) uv[i] = uv[i]! * k;
}

/** Local step: the rotation that fits each triangle best. Global step: the layout that fits those rotations best. */
function relax(chart: Chart, start: Float64Array, rounds: number): Float64Array {
  const { indices } = chart;
  const count = chart.positions.length / 3;
  const faces = indices.length / 3;
  const local = new Float64Array(faces * 6);
  const cot = new Float64Array(faces * 3);
  const entries: [number, number, number][] = [];
  for (let f = 0; f < faces; f++) {
    layFlat(chart, f, local);
    for (let k = 0; k < 3; k++) {
      // Weight of the edge opposite corner k; floored, so that needles keep the matrix positive.
      const w = Math.max(0.02, Math.min(50, 1 / Math.tan(angleAt(chart, f * 3, k)))) / 2;
      cot[f * 3 + k] = w;
      const i = indices[f * 3 + ((k + 1) % 3)]!;
      const j = indices[f * 3 + ((k + 2) % 3)]!;
      entries.push([i, i, w], [j, j, w], [i, j, -w], [j, i, -w]);
    }
  }
  entries.push([0, 0, 1]); // one vertex holds the layout in place
  const matrix = sparseFromEntries(count, entries);
  const uv = start.slice();
  for (let round = 0; round < rounds; round++) {
    const right = [new Float64Array(count), new Float64Array(count)] as const;
    right[0][0] = uv[0]!;
    right[1][0] = uv[1]!;
    for (let f = 0; f < faces; f++) addRotated(chart, f, local, cot, uv, right);
    for (let axis = 0; axis < 2; axis++) {
      const x = Float64Array.from({ length: count }, (_, v) => uv[v * 2 + axis]!);
      solveSpd(matrix, right[axis]!, x, 1e-5);
      for (let v = 0; v < count; v++) uv[v * 2 + axis] = x[v]!;
    }
  }
  return uv;
}

/** Triangle f in its own plane: corner 0 at the origin, corner 1 on the x axis. */
function layFlat(chart: Chart, f: number, out: Float64Array): void {
  const p = chart.positions;
  const [a, b, c] = [0, 1, 2].map((k) => chart.indices[f * 3 + k]!) as [number, number, number];
  const ab = edgeLength(p, a, b);
  const ac = edgeLength(p, a, c);
  const angle = angleAt(chart, f * 3, 0);
  out.set([0, 0, ab, 0, ac * Math.cos(angle), ac * Math.sin(angle)], f * 6);
}

function addRotated(
  { indices }: Chart,
  f: number,
  local: Float64Array,
  cot: Float64Array,
  uv: Float64Array,
  right: readonly [Float64Array, Float64Array],
): void {
  let re = 0;
  let im = 0;
  for (let k = 0; k < 3; k++) {
    const i = (k + 1) % 3;
    const j = (k + 2) % 3;
    const w = cot[f * 3 + k]!;
    const x = local[f * 6 + i * 2]! - local[f * 6 + j * 2]!;
    const y = local[f * 6 + i * 2 + 1]! - local[f * 6 + j * 2 + 1]!;
    const vi = indices[f * 3 + i]! * 2;
    const vj = indices[f * 3 + j]! * 2;
    const u = uv[vi]! - uv[vj]!;
    const v = uv[vi + 1]! - uv[vj + 1]!;
    re += w * (u * x + v * y);
    im += w * (v * x - u * y);
  }
  const l = Math.hypot(re, im) || 1;
  const cos = re / l;
  const sin = im / l;
  for (let k = 0; k < 3; k++) {
    const i = (k + 1) % 3;
    const j = (k + 2) % 3;
    const w = cot[f * 3 + k]!;
    const x = local[f * 6 + i * 2]! - local[f * 6 + j * 2]!;
    const y = local[f * 6 + i * 2 + 1]! - local[f * 6 + j * 2 + 1]!;
    const rx = w * (cos * x - sin * y);
    const ry = w * (sin * x + cos * y);
    const vi = indices[f * 3 + i]!;
    const vj = indices[f * 3 + j]!;
    right[0][vi]! += rx;
    right[1][vi]! += ry;
    right[0][vj]! -= rx;
    right[1][vj]! -= ry;
  }
}
