import { add, cross, dot, normalize, r2Sequence, scale, seededRandom, sub, type Vec3 } from '../math';
import { boundsOf, diagonalOf } from './bounds';
import { ClosestPoint, type SurfacePoint } from './closest-point';
import { faceGeometry } from './face-geometry';
import type { Mesh } from './mesh';

/** A plane over which a mesh is its own mirror image, as nearly as `error` says. */
export interface SymmetryPlane {
  readonly point: Vec3;
  /** Unit. */
  readonly normal: Vec3;
  /** How far mirrored places lie from the surface, mean, in parts of the model's diagonal. */
  readonly error: number;
}

/** Places that are looked at in every direction, and of the planes that are fitted. */
const [FEW, MANY] = [60, 400];

/** Directions that are tried, besides the model's axes. */
const DIRECTIONS = 180;

/** Of these so many of the best are fitted, in so many steps. */
const [FITTED, STEPS] = [6, 14];

/** A step that turns the normal by less than this is the last, radians. */
const SETTLED = 2e-4;

/** Mirrored places may lie so far off, in parts of the diagonal: made by hand, or scanned. */
const MOST_ERROR = 0.005;

/** What has no counterpart counts as so far off. */
const MOST_FAR = 0.1;

/** Planes whose normals agree by this cosine are one. */
const SAME = 0.995;

/** The part of the places that counts: what is broken on one side mustn't pull the plane. */
const KEPT = 0.9;

/**
 * Planes of symmetry, the best first: mirrored places of the surface must lie on it. Candidates through the middle of the surface in directions
 * all round are fitted to the nearest places (iterative closest points with distances to tangent planes: Y. Chen and G. Medioni, "Object modelling
 * by registration of multiple range images", 1992).
 *
 * @returns at most a handful; a turned shape has many more
 */
export function symmetryPlanes(mesh: Pick<Mesh, 'positions' | 'indices'>): SymmetryPlane[] {
  const { positions, indices } = mesh;
  const diagonal = diagonalOf(boundsOf(positions));
  if (indices.length < 12 || !(diagonal > 0)) return [];
  const { normals, areas } = faceGeometry(mesh);
  const places = samplePlaces(mesh, areas);
  if (places.length === 0) return [];
  const middle = scale(
    places.reduce((sum, p) => add(sum, p), [0, 0, 0] as Vec3),
    1 / places.length,
  );
  const closest = new ClosestPoint(positions, indices);
  const found: SurfacePoint = { face: 0, w0: 0, w1: 0, w2: 0, distance: 0 };
  const nearest = (p: Vec3): { at: Vec3; normal: Vec3; distance: number } => {
    closest.find(...p, found);
    const [a, b, c] = [0, 1, 2].map((k) => indices[found.face * 3 + k]! * 3) as [number, number, number];
    const at = [0, 1, 2].map(
      (k) => positions[a + k]! * found.w0 + positions[b + k]! * found.w1 + positions[c + k]! * found.w2,
    ) as unknown as Vec3;
    const o = found.face * 3;
    return { at, normal: [normals[o]!, normals[o + 1]!, normals[o + 2]!], distance: found.distance };
  };
  const errorOf = (normal: Vec3, point: Vec3, list: readonly Vec3[]): number => {
    let sum = 0;
    for (const p of list) sum += Math.min(MOST_FAR, nearest(mirrored(p, point, normal)).distance / diagonal);
    return sum / list.length;
  };
  const some = places.filter((_, i) => i % 3 === 0);
  const fit = (start: Vec3): SymmetryPlane => {
    let normal = start;
    let d = dot(normal, middle);
    for (let step = 0; step < STEPS; step++) {
      const before = normal;
      // The first steps only have to come near.
      [normal, d] = fittedStep(step < STEPS / 2 ? some : places, normal, d, nearest);
      const isStill = Math.hypot(...cross(before, normal)) < SETTLED;
      if (isStill && step > STEPS / 2) break;
      if (isStill) step = Math.max(step, Math.floor(STEPS / 2) - 1);
    }
    const point = add(middle, scale(normal, d - dot(normal, middle)));
    return { point, normal: signed(normal), error: errorOf(normal, point, places) };
  };
  // Every how many-th place, so that the few are spread as the many.
  const few = places.filter((_, i) => i % Math.ceil(MANY / FEW) === 0);
  const ranked = directions()
    .map((normal) => ({ normal, error: errorOf(normal, middle, few) }))
    .sort((a, b) => a.error - b.error)
    .slice(0, FITTED);
  const axes: Vec3[] = [
    [1, 0, 0],
    [0, 0, 1],
    [0, 1, 0],
  ];
  const out: SymmetryPlane[] = [];
  const all = [...axes, ...ranked.map((r) => r.normal)].map(fit).filter((p) => p.error < MOST_ERROR);
  for (const plane of all.sort((a, b) => a.error - b.error)) {
    if (!out.some((o) => Math.abs(dot(o.normal, plane.normal)) > SAME)) out.push(plane);
  }
  return out;
}

/** The plane by which both sides are kept alike: of several about as good the one that divides left from right. */
export function mainSymmetry(planes: readonly SymmetryPlane[]): SymmetryPlane | null {
  const [best] = planes;
  if (!best) return null;
  const good = planes.filter((p) => p.error <= best.error * 2 + 1e-4);
  return good.reduce((a, b) => (Math.abs(b.normal[0]) > Math.abs(a.normal[0]) + 0.02 ? b : a));
}

/** The axis round which a turned shape is alike on all sides: where at least three of its planes meet. */
export function turningAxis(planes: readonly SymmetryPlane[]): { point: Vec3; direction: Vec3 } | null {
  for (const [i, a] of planes.entries()) {
    for (const b of planes.slice(i + 1)) {
      const direction = cross(a.normal, b.normal);
      if (Math.hypot(...direction) < 0.15) continue;
      const way = normalize(direction);
      const round = planes.filter((p) => Math.abs(dot(p.normal, way)) < 0.05);
      if (round.length >= 3) return { point: a.point, direction: way };
    }
  }
  return null;
}

const mirrored = (p: Vec3, point: Vec3, normal: Vec3): Vec3 =>
  sub(p, scale(normal, 2 * dot(sub(p, point), normal)));

/** The same plane has two normals: the one whose largest part is positive. */
function signed(n: Vec3): Vec3 {
  const most = n.reduce((a, b) => (Math.abs(b) > Math.abs(a) + 1e-9 ? b : a));
  return most < 0 ? scale(n, -1) : n;
}

/** Spread evenly over the half of all directions (a Fibonacci lattice: R. Swinbank and R. Purser, 2006). */
function directions(): Vec3[] {
  const golden = Math.PI * (3 - Math.sqrt(5));
  return Array.from({ length: DIRECTIONS }, (_, i) => {
    const z = (i + 0.5) / DIRECTIONS;
    const r = Math.sqrt(1 - z * z);
    return [r * Math.cos(golden * i), r * Math.sin(golden * i), z] as const;
  });
}

/** Places spread over the surface by area, always the same ones. */
function samplePlaces(
  { positions, indices }: Pick<Mesh, 'positions' | 'indices'>,
  areas: Float64Array,
): Vec3[] {
  const total = areas.reduce((sum, a) => sum + a, 0);
  if (!(total > 0)) return [];
  const points = r2Sequence(MANY);
  const random = seededRandom(7);
  const out: Vec3[] = [];
  let [f, sum] = [0, areas[0]!];
  for (let i = 0; i < MANY; i++) {
    while (sum < ((i + random()) / MANY) * total && f < areas.length - 1) sum += areas[++f]!;
    let [u, v] = [points[i * 2]!, points[i * 2 + 1]!];
    if (u + v > 1) [u, v] = [1 - u, 1 - v];
    const [a, b, c] = [0, 1, 2].map((k) => indices[f * 3 + k]! * 3) as [number, number, number];
    out.push(
      [0, 1, 2].map(
        (k) => positions[a + k]! * (1 - u - v) + positions[b + k]! * u + positions[c + k]! * v,
      ) as unknown as Vec3,
    );
  }
  return out;
}

/** One step of Gauss and Newton: the plane turns about two axes and shifts, so that mirrored places come nearer to tangent planes. */
function fittedStep(
  places: readonly Vec3[],
  normal: Vec3,
  d: number,
  nearest: (p: Vec3) => { at: Vec3; normal: Vec3; distance: number },
): [Vec3, number] {
  const s = normalize(cross(normal, Math.abs(normal[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]));
  const t = cross(normal, s);
  const pairs = places.map((p) => {
    const h = dot(p, normal) - d;
    const image = sub(p, scale(normal, 2 * h));
    return { p, h, image, ...nearest(image) };
  });
  pairs.sort((a, b) => a.distance - b.distance);
  const a = new Float64Array(9);
  const b = new Float64Array(3);
  for (const { p, h, image, at, normal: n } of pairs.slice(0, Math.ceil(pairs.length * KEPT))) {
    const r = dot(n, sub(image, at));
    const nn = dot(n, normal);
    // How the residual changes with a turn toward s, one toward t, and a shift.
    const j = [-2 * (dot(p, s) * nn + h * dot(n, s)), -2 * (dot(p, t) * nn + h * dot(n, t)), 2 * nn] as const;
    for (let k = 0; k < 3; k++) {
      b[k]! -= j[k]! * r;
      for (let l = 0; l < 3; l++) a[k * 3 + l]! += j[k]! * j[l]!;
    }
  }
  const trace = a[0]! + a[4]! + a[8]!;
  // What turning or shifting doesn't change stays as it is.
  for (let k = 0; k < 3; k++) a[k * 4]! += 1e-6 * trace;
  const rows = [0, 3, 6].map((k) => [a[k]!, a[k + 1]!, a[k + 2]!] as Vec3) as [Vec3, Vec3, Vec3];
  const det = dot(rows[0], cross(rows[1], rows[2]));
  if (!(Math.abs(det) > 0)) return [normal, d];
  // Cramer's rule on the columns of a symmetric matrix.
  const way: Vec3 = [b[0]!, b[1]!, b[2]!];
  const x = dot(way, cross(rows[1], rows[2])) / det;
  const y = dot(rows[0], cross(way, rows[2])) / det;
  const z = dot(rows[0], cross(rows[1], way)) / det;
  return [normalize(add(normal, add(scale(s, x), scale(t, y))), normal), d + z];
}
