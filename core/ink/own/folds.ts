import { add, cross, dot, scale, sub, type Vec3 } from '../../math';
import type { InkSurface } from '../ink-surface';
import { bendsOf, type Bend } from './bends';
import { chainLength, chainsOf, type Chain, type Piece } from './chains';
import type { OwnSource } from './own-spec';

type Folds = Extract<OwnSource, { along: 'folds' }>;

/** What rises by less than this part of the steepest is level. */
const FLAT = 1e-6;

/** A direction that no model is likely to be made along. */
const ASIDE: Vec3 = [0.6123, 0.5334, 0.5837];

/**
 * Lines along which the surface bends most: where the greatest curvature, followed in its own direction, has a peak (ridges), and where the
 * least has one of hollowness (valleys); found as zeros of its derivative triangle by triangle (S. Yoshizawa, A. Belyaev and H.-P. Seidel,
 * "Fast and robust detection of crest lines on meshes", 2005).
 *
 * @param diagonal of the model
 */
export function foldLines(
  { which, scale: size, least }: Folds,
  ground: InkSurface,
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
function peaks(ground: InkSurface, bends: readonly (Bend | null)[], sign: 1 | -1, limit: number): Chain[] {
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
  { mesh, topology, normals }: InkSurface,
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
