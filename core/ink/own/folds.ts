import { add, cross, dot, normalize, scale, sub, type Vec3 } from '../../math';
import { nextCorner, previousCorner } from '../../mesh';
import type { InkGround } from '../ground';
import { chainLength, chainsOf, type Chain, type Piece } from './chains';
import type { OwnSource } from './own-spec';

type Folds = Extract<OwnSource, { along: 'folds' }>;

/** How the surface bends at a place: how much at the most (bulging) and at the least (hollow), and in which directions. */
interface Bend {
  readonly most: number;
  readonly mostWay: Vec3;
  readonly least: number;
  readonly leastWay: Vec3;
}

/** What rises by less than this part of the steepest is level. */
const FLAT = 1e-6;

/** A direction that no model is likely to be made along. */
const ASIDE: Vec3 = [0.6123, 0.5334, 0.5837];

/** Rounds of smoothing at the most. */
const MOST_ROUNDS = 60;

/**
 * Lines along which the surface bends most: where the greatest curvature, followed in its own direction, has a peak (ridges), and where the
 * least has one of hollowness (valleys); found as zeros of its derivative triangle by triangle (S. Yoshizawa, A. Belyaev and H.-P. Seidel,
 * "Fast and robust detection of crest lines on meshes", 2005).
 *
 * @param diagonal of the model
 */
export function foldLines(
  { which, scale: size, least }: Folds,
  ground: InkGround,
  diagonal: number,
): Chain[] {
  const bends = bendsOf(ground, size * diagonal);
  // A ball of a tenth of the diagonal bends by this; the sharpest of a model by much more.
  const unit = 10 / diagonal;
  const limit = unit * 0.6 * 12 ** least;
  const out: Chain[] = [];
  if (which !== 'valleys') out.push(...peaks(ground, bends, 1, limit));
  if (which !== 'ridges') out.push(...peaks(ground, bends, -1, limit));
  return out;
}

/** Lines of peaks. @param sign 1 for ridges, -1 for valleys */
function peaks(ground: InkGround, bends: readonly (Bend | null)[], sign: 1 | -1, limit: number): Chain[] {
  const { mesh, topology } = ground;
  const { indices, positions: p } = mesh;
  const { welded } = topology;
  const point = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  const height = (v: number): number => (sign > 0 ? bends[v]!.most : -bends[v]!.least);
  const way = (v: number): Vec3 => (sign > 0 ? bends[v]!.mostWay : bends[v]!.leastWay);
  const rises = risesAlong(ground, bends, height, way);
  const places = new Map<number, { at: Vec3; height: number }>();
  const pieces: Piece[] = [];
  const heights: number[] = [];
  for (let f = 0; f < indices.length / 3; f++) {
    const [a, b, c] = [0, 1, 2].map((k) => welded[indices[f * 3 + k]!]!) as [number, number, number];
    if (!bends[a] || !bends[b] || !bends[c]) continue;
    // Directions have no sign of their own: all go with the first.
    const signs = [1, dot(way(a), way(b)) < 0 ? -1 : 1, dot(way(a), way(c)) < 0 ? -1 : 1];
    if (dot(scale(way(b), signs[1]!), scale(way(c), signs[2]!)) < 0) continue;
    const corners = [a, b, c];
    const slopes = corners.map((v, k) => rises[v]! * signs[k]!);
    const found: number[] = [];
    for (let k = 0; k < 3; k++) {
      const j = (k + 1) % 3;
      const [e0, e1] = [slopes[k]!, slopes[j]!];
      if (e0 > 0 === e1 > 0) continue;
      const [v0, v1] = [corners[k]!, corners[j]!];
      const along = sub(point(v1), point(v0));
      // It rises toward the crossing from both sides.
      const isPeak =
        e0 * dot(along, scale(way(v0), signs[k]!)) > 0 && e1 * dot(along, scale(way(v1), signs[j]!)) < 0;
      if (!isPeak) continue;
      const t = Math.abs(e0) / (Math.abs(e0) + Math.abs(e1));
      const edge = topology.edges.ofCorner[f * 3 + k]!;
      places.set(edge, {
        at: add(point(v0), scale(along, t)),
        height: height(v0) * (1 - t) + height(v1) * t,
      });
      found.push(edge);
    }
    if (found.length === 2) {
      pieces.push([found[0]!, found[1]!]);
      heights.push((places.get(found[0]!)!.height + places.get(found[1]!)!.height) / 2);
    }
  }
  return chainsOf(pieces, (id) => places.get(id)!.at, 0.3).filter((chain) => {
    const mean = chain.pieces.reduce((sum, i) => sum + heights[i]!, 0) / chain.pieces.length;
    return mean > limit && chainLength(chain) > 0;
  });
}

/** How fast a height rises in each vertex's own direction. */
function risesAlong(
  { mesh, topology, normals }: InkGround,
  bends: readonly (Bend | null)[],
  height: (v: number) => number,
  way: (v: number) => Vec3,
): Float64Array {
  const { indices, positions: p } = mesh;
  const out = new Float64Array(p.length / 3);
  const weights = new Float64Array(out.length);
  const point = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  for (let f = 0; f < indices.length / 3; f++) {
    const [a, b, c] = [0, 1, 2].map((k) => topology.welded[indices[f * 3 + k]!]!) as [number, number, number];
    if (!bends[a] || !bends[b] || !bends[c]) continue;
    const n: Vec3 = [normals[f * 3]!, normals[f * 3 + 1]!, normals[f * 3 + 2]!];
    const [pa, pb, pc] = [point(a), point(b), point(c)];
    const doubled = dot(cross(sub(pb, pa), sub(pc, pa)), n);
    if (!(doubled > 0)) continue;
    // The gradient of what is linear over a triangle.
    const gradient = scale(
      add(
        add(scale(cross(n, sub(pc, pb)), height(a)), scale(cross(n, sub(pa, pc)), height(b))),
        scale(cross(n, sub(pb, pa)), height(c)),
      ),
      1 / doubled,
    );
    for (const v of [a, b, c]) {
      out[v]! += dot(gradient, way(v)) * doubled;
      weights[v]! += doubled;
    }
  }
  for (let v = 0; v < out.length; v++) if (weights[v]! > 0) out[v]! /= weights[v]!;
  // On a model that is the same on both sides peaks lie on vertices, where it is rounding that rises: there it is told by one direction.
  const tiny = out.reduce((most, x) => Math.max(most, Math.abs(x)), 0) * FLAT;
  for (let v = 0; v < out.length; v++) {
    if (bends[v] && Math.abs(out[v]!) <= tiny) out[v] = dot(way(v), ASIDE) < 0 ? -tiny : tiny;
  }
  return out;
}

const kept = new WeakMap<InkGround, { readonly radius: number; readonly bends: readonly (Bend | null)[] }>();

/**
 * How the surface bends at each vertex: tensors of the triangles by the turn of their corners' normals (S. Rusinkiewicz, "Estimating
 * curvatures and their derivatives on triangle meshes", 2004), evened out over so far.
 */
function bendsOf(ground: InkGround, radius: number): readonly (Bend | null)[] {
  const known = kept.get(ground);
  if (known?.radius === radius) return known.bends;
  const { mesh, topology, normals } = ground;
  const { indices, positions: p } = mesh;
  const { welded, edges } = topology;
  const count = p.length / 3;
  const smooth = smoothNormals(ground);
  let tensors = new Float64Array(count * 6);
  const weights = new Float64Array(count);
  const point = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  const normal = (v: number): Vec3 => [smooth[v * 3]!, smooth[v * 3 + 1]!, smooth[v * 3 + 2]!];
  for (let f = 0; f < indices.length / 3; f++) {
    const corners = [0, 1, 2].map((k) => welded[indices[f * 3 + k]!]!);
    const n: Vec3 = [normals[f * 3]!, normals[f * 3 + 1]!, normals[f * 3 + 2]!];
    const u = normalize(sub(point(corners[1]!), point(corners[0]!)));
    const v = cross(n, u);
    const form = secondForm(corners.map(point), corners.map(normal), u, v);
    if (!form) continue;
    const [a, b, c] = form;
    const area = Math.abs(
      dot(cross(sub(point(corners[1]!), point(corners[0]!)), sub(point(corners[2]!), point(corners[0]!))), n),
    );
    let o = 0;
    const tensor = new Float64Array(6);
    for (let i = 0; i < 3; i++)
      for (let j = i; j < 3; j++)
        tensor[o++] = a * u[i]! * u[j]! + b * (u[i]! * v[j]! + v[i]! * u[j]!) + c * v[i]! * v[j]!;
    for (const vertex of corners) {
      for (let k = 0; k < 6; k++) tensors[vertex * 6 + k]! += tensor[k]! * area;
      weights[vertex]! += area;
    }
  }
  for (let v = 0; v < count; v++)
    if (weights[v]! > 0) for (let k = 0; k < 6; k++) tensors[v * 6 + k]! /= weights[v]!;
  const mean = meanEdge(edges.ends, p);
  // A step over the neighbours spreads by about half an edge, and steps add up like a random walk.
  const rounds = Math.min(MOST_ROUNDS, Math.round((2 * radius) / (mean || 1)) ** 2);
  for (let r = 0; r < rounds; r++) tensors = spread(tensors, edges.ends, weights);
  const bends = Array.from({ length: count }, (_, v) =>
    welded[v] === v && weights[v]! > 0 ? bendOf(tensors, v * 6, normal(v)) : null,
  );
  kept.set(ground, { radius, bends });
  return bends;
}

/** The shape operator of a triangle in its plane, by least squares over its three sides: uu, uv, vv. */
function secondForm(
  at: readonly Vec3[],
  normals: readonly Vec3[],
  u: Vec3,
  v: Vec3,
): [number, number, number] | null {
  // Of each side e with normals turning by d: a eu + b ev = du and b eu + c ev = dv.
  const m = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  const right = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const j = (k + 1) % 3;
    const e = sub(at[j]!, at[k]!);
    const d = sub(normals[j]!, normals[k]!);
    const [eu, ev, du, dv] = [dot(e, u), dot(e, v), dot(d, u), dot(d, v)];
    for (const [row, value] of [
      [[eu, ev, 0], du],
      [[0, eu, ev], dv],
    ] as const) {
      for (let i = 0; i < 3; i++) {
        right[i]! += row[i]! * value;
        for (let l = 0; l < 3; l++) m[i]![l]! += row[i]! * row[l]!;
      }
    }
  }
  const [r0, r1, r2] = m as unknown as [Vec3, Vec3, Vec3];
  const det = dot(r0, cross(r1, r2));
  if (!(Math.abs(det) > 1e-40)) return null;
  // The matrix is its own transpose: its rows are its columns too.
  const b = right as unknown as Vec3;
  return [dot(b, cross(r1, r2)) / det, dot(r0, cross(b, r2)) / det, dot(r0, cross(r1, b)) / det];
}

function bendOf(t: Float64Array, o: number, n: Vec3): Bend {
  const u = normalize(cross(Math.abs(n[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0], n));
  const v = cross(n, u);
  const times = (w: Vec3): Vec3 => [
    t[o]! * w[0] + t[o + 1]! * w[1] + t[o + 2]! * w[2],
    t[o + 1]! * w[0] + t[o + 3]! * w[1] + t[o + 4]! * w[2],
    t[o + 2]! * w[0] + t[o + 4]! * w[1] + t[o + 5]! * w[2],
  ];
  const [tu, tv] = [times(u), times(v)];
  const [a, b, c] = [dot(u, tu), dot(u, tv), dot(v, tv)];
  const middle = (a + c) / 2;
  const off = Math.sqrt(((a - c) / 2) ** 2 + b * b);
  const angle = Math.atan2(2 * b, a - c) / 2;
  const mostWay = add(scale(u, Math.cos(angle)), scale(v, Math.sin(angle)));
  return { most: middle + off, mostWay, least: middle - off, leastWay: cross(n, mostWay) };
}

/** Each place's mean with its neighbours. */
function spread(
  values: Float64Array<ArrayBuffer>,
  ends: Uint32Array,
  weights: Float64Array,
): Float64Array<ArrayBuffer> {
  const sums = values.slice();
  const counts = new Float64Array(weights.length).fill(1);
  for (let e = 0; e < ends.length; e += 2) {
    const [a, b] = [ends[e]!, ends[e + 1]!];
    if (!(weights[a]! > 0 && weights[b]! > 0)) continue;
    for (let k = 0; k < 6; k++) {
      sums[a * 6 + k]! += values[b * 6 + k]!;
      sums[b * 6 + k]! += values[a * 6 + k]!;
    }
    counts[a]!++;
    counts[b]!++;
  }
  for (let v = 0; v < counts.length; v++) for (let k = 0; k < 6; k++) sums[v * 6 + k]! /= counts[v]!;
  return sums;
}

function meanEdge(ends: Uint32Array, p: Float32Array): number {
  let sum = 0;
  for (let e = 0; e < ends.length; e += 2) {
    const [a, b] = [ends[e]! * 3, ends[e + 1]! * 3];
    sum += Math.hypot(p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!);
  }
  return ends.length ? (sum * 2) / ends.length : 0;
}

/** Normals of welded vertices, by the angles of their triangles, so that a fold has no two. */
function smoothNormals({ mesh, topology, normals }: InkGround): Float64Array {
  const { indices, positions: p } = mesh;
  const out = new Float64Array(p.length);
  const point = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  for (let c = 0; c < indices.length; c++) {
    const f = Math.floor(c / 3) * 3;
    const here = point(indices[c]!);
    const a = normalize(sub(point(indices[nextCorner(c)]!), here));
    const b = normalize(sub(point(indices[previousCorner(c)]!), here));
    const angle = Math.acos(Math.min(1, Math.max(-1, dot(a, b))));
    const v = topology.welded[indices[c]!]! * 3;
    for (let k = 0; k < 3; k++) out[v + k]! += normals[f + k]! * angle;
  }
  for (let v = 0; v < out.length; v += 3) {
    const l = Math.hypot(out[v]!, out[v + 1]!, out[v + 2]!);
    if (l > 0) for (let k = 0; k < 3; k++) out[v + k]! /= l;
  }
  return out;
}
