import { add, cross, dot, normalize, scale, sub, type Vec3 } from '../../math';
import { nextCorner, previousCorner } from '../../mesh';
import type { InkSurface } from '../ink-surface';

/** How the surface bends at a place: how much at the most (bulging) and at the least (hollow), and in which directions. */
export interface Bend {
  readonly most: number;
  readonly mostWay: Vec3;
  readonly least: number;
  readonly leastWay: Vec3;
}

/** Rounds of smoothing at the most. */
const MOST_ROUNDS = 60;

const kept = new WeakMap<InkSurface, { readonly radius: number; readonly bends: readonly (Bend | null)[] }>();

/**
 * How the surface bends at each vertex: tensors of the triangles by the turn of their corners' normals (S. Rusinkiewicz, "Estimating
 * curvatures and their derivatives on triangle meshes", 2004), evened out over so far.
 */
export function bendsOf(ground: InkSurface, radius: number): readonly (Bend | null)[] {
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
export function spread(
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
function smoothNormals({ mesh, topology, normals }: InkSurface): Float64Array {
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
