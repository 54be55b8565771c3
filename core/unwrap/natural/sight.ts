import { cross, dot, normalize, type Vec3 } from '../../math';
import { boundsOf, centreOf, diagonalOf, faceGeometry, type Mesh, type Topology } from '../../mesh';

/** A side from which models are looked at. The front looks along z, y is up. */
export interface SeenFrom {
  /** Unit, toward the eye. */
  readonly toward: Vec3;
  /** How much it counts. */
  readonly weight: number;
}

const from = (around: number, above: number, weight: number): SeenFrom => {
  const [a, e] = [(around * Math.PI) / 180, (above * Math.PI) / 180];
  return { toward: [Math.sin(a) * Math.cos(e), Math.sin(e), Math.cos(a) * Math.cos(e)], weight };
};

/** Both sides alike. */
const sides = (around: number, above: number, weight: number): SeenFrom[] => [
  from(around, above, weight),
  from(-around, above, weight),
];

/**
 * From where characters and props are seen (common practice): at eye level from the front, three quarters and the sides, from a little above as
 * in a game, less from behind, hardly from below.
 */
export const SEEN_FROM: readonly SeenFrom[] = [
  from(0, 8, 1),
  ...sides(40, 8, 1),
  ...sides(90, 8, 0.7),
  ...sides(140, 8, 0.35),
  from(180, 8, 0.3),
  from(0, 38, 0.6),
  ...sides(60, 38, 0.6),
  ...sides(120, 38, 0.3),
  from(180, 38, 0.2),
  from(0, 80, 0.2),
  from(0, -30, 0.2),
  ...sides(100, -30, 0.1),
];

/** Side of the picture in which is told what hides what, pixels. */
const SIDE = 320;

/** What lies behind something else by no more than this part of the model's radius still counts as seen: a picture has pixels. */
const SLACK = 0.02;

/**
 * How much each welded vertex is seen, 0..1: over all views, whether nothing hides it, and how squarely. 1 is as much as what looks to the front
 * and stands free.
 */
export function sightOf(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  views: readonly SeenFrom[] = SEEN_FROM,
): Float64Array {
  const count = mesh.positions.length / 3;
  const normals = vertexNormals(mesh, topology);
  const out = new Float64Array(count);
  const bounds = boundsOf(mesh.positions);
  const centre = centreOf(bounds) as Vec3;
  const radius = diagonalOf(bounds) / 2 || 1;
  const depths = new Float32Array(SIDE * SIDE);
  const seen = new Float64Array(count * 3);
  for (const { toward, weight } of views) {
    project(mesh.positions, centre, radius, toward, seen);
    drawDepths(mesh.indices, seen, depths);
    for (let v = 0; v < count; v++) {
      if (topology.welded[v] !== v) continue;
      const square = dot([normals[v * 3]!, normals[v * 3 + 1]!, normals[v * 3 + 2]!], toward);
      if (square <= 0) continue;
      const x = Math.min(SIDE - 1, Math.floor(seen[v * 3]!));
      const y = Math.min(SIDE - 1, Math.floor(seen[v * 3 + 1]!));
      if (seen[v * 3 + 2]! + SLACK >= depths[y * SIDE + x]!) out[v]! += weight * square;
    }
  }
  const most = views.reduce((sum, { toward, weight }) => sum + weight * Math.max(0, toward[2]), 0) || 1;
  return out.map((_, v) => Math.min(1, out[topology.welded[v]!]! / most));
}

/** How much each edge is seen: the mean of its ends. @param sight of welded vertices */
export const edgeSight = ({ edges }: Topology, sight: Float64Array): Float64Array =>
  Float64Array.from(edges.uses, (_, e) => (sight[edges.ends[e * 2]!]! + sight[edges.ends[e * 2 + 1]!]!) / 2);

/** Unit normals of welded vertices, by area. */
function vertexNormals(mesh: Pick<Mesh, 'positions' | 'indices'>, { welded }: Topology): Float64Array {
  const { normals, areas } = faceGeometry(mesh);
  const out = new Float64Array(mesh.positions.length);
  mesh.indices.forEach((v, c) => {
    const f = Math.floor(c / 3);
    for (let k = 0; k < 3; k++) out[welded[v]! * 3 + k]! += normals[f * 3 + k]! * areas[f]!;
  });
  for (let v = 0; v < out.length; v += 3) {
    const l = Math.hypot(out[v]!, out[v + 1]!, out[v + 2]!) || 1;
    for (let k = 0; k < 3; k++) out[v + k]! /= l;
  }
  return out;
}

/** Pixels from the lower left, and how near the eye, in radii; without perspective. */
function project(
  positions: Float32Array,
  centre: Vec3,
  radius: number,
  toward: Vec3,
  out: Float64Array,
): void {
  const right = normalize(
    cross(Math.abs(toward[1]) > 0.99 ? [0, 0, -Math.sign(toward[1])] : [0, 1, 0], toward),
  );
  const up = cross(toward, right);
  for (let v = 0; v < positions.length; v += 3) {
    const p: Vec3 = [
      (positions[v]! - centre[0]) / radius,
      (positions[v + 1]! - centre[1]) / radius,
      (positions[v + 2]! - centre[2]) / radius,
    ];
    out[v] = ((dot(p, right) + 1) / 2) * SIDE;
    out[v + 1] = ((dot(p, up) + 1) / 2) * SIDE;
    out[v + 2] = dot(p, toward);
  }
}

/** The nearest depth a pixel. */
function drawDepths(indices: Uint32Array, seen: Float64Array, depths: Float32Array): void {
  depths.fill(-Infinity);
  for (let c = 0; c < indices.length; c += 3) {
    const [a, b, d] = [indices[c]! * 3, indices[c + 1]! * 3, indices[c + 2]! * 3];
    const [ax, ay, bx, by, dx, dy] = [seen[a]!, seen[a + 1]!, seen[b]!, seen[b + 1]!, seen[d]!, seen[d + 1]!];
    const area = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
    if (area === 0) continue;
    const x1 = Math.min(SIDE - 1, Math.floor(Math.max(ax, bx, dx) - 0.5));
    const y1 = Math.min(SIDE - 1, Math.floor(Math.max(ay, by, dy) - 0.5));
    for (let y = Math.max(0, Math.ceil(Math.min(ay, by, dy) - 0.5)); y <= y1; y++) {
      for (let x = Math.max(0, Math.ceil(Math.min(ax, bx, dx) - 0.5)); x <= x1; x++) {
        const sb = ((x + 0.5 - ax) * (dy - ay) - (y + 0.5 - ay) * (dx - ax)) / area;
        const sd = ((bx - ax) * (y + 0.5 - ay) - (by - ay) * (x + 0.5 - ax)) / area;
        if (sb < 0 || sd < 0 || sb + sd > 1) continue;
        const depth = seen[a + 2]! * (1 - sb - sd) + seen[b + 2]! * sb + seen[d + 2]! * sd;
        if (depth > depths[y * SIDE + x]!) depths[y * SIDE + x] = depth;
      }
    }
  }
}
