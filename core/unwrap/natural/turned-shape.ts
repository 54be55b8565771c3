import { cross, dot, mainAxes, scale, sub, type Vec3 } from '../../math';
import { boundsOf, diagonalOf, type Mesh, type Topology } from '../../mesh';

/** A surface whose vertices lie on rings round an axis, as many on each, all at the same angles; poles are rings of one. */
export interface TurnedShape {
  /** Welded vertices round each ring; the same place in each ring lies at the same angle. */
  readonly rings: readonly (readonly number[])[];
  /** Edges along rings. */
  readonly round: readonly number[];
  /** Edges from ring to ring at each angle; those at poles apart. */
  readonly along: readonly (readonly number[])[];
  readonly toPoles: readonly (readonly number[])[];
}

/** Rings have so many vertices at the least: fewer make a box. */
const LEAST_ROUND = 8;

/** Vertices are on one ring if they differ by no more than this, in parts of the diagonal; angles by no more than this part of a step. */
const [SAME, SAME_ANGLE] = [2e-4, 0.1];

interface Place {
  readonly vertex: number;
  readonly height: number;
  readonly radius: number;
  /** Radians. */
  readonly angle: number;
}

/** @returns null if the surface isn't turned, or its rings have vertices at other angles */
export function turnedShape(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
): TurnedShape | null {
  const vertices = [...new Set(Array.from(mesh.indices, (v) => topology.welded[v]!))];
  if (vertices.length < 2 * LEAST_ROUND) return null;
  const centre = meanOf(mesh.positions, vertices);
  const axes: Vec3[] = [
    ...mainAxes(spread(mesh.positions, vertices, centre)),
    [0, 1, 0],
    [1, 0, 0],
    [0, 0, 1],
  ];
  const tolerance = SAME * diagonalOf(boundsOf(mesh.positions));
  for (const axis of axes) {
    const rings = ringsAbout(mesh.positions, vertices, centre, axis, tolerance);
    const shape = rings && shapeOf(topology, rings);
    if (shape) return shape;
  }
  return null;
}

function meanOf(p: Float32Array, vertices: readonly number[]): Vec3 {
  const sum = [0, 0, 0];
  for (const v of vertices) for (let k = 0; k < 3; k++) sum[k]! += p[v * 3 + k]!;
  return scale(sum as unknown as Vec3, 1 / vertices.length);
}

function spread(p: Float32Array, vertices: readonly number[], centre: Vec3) {
  const sums: [number, number, number, number, number, number] = [0, 0, 0, 0, 0, 0];
  for (const v of vertices) {
    const [x, y, z] = sub([p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!], centre);
    [x * x, x * y, x * z, y * y, y * z, z * z].forEach((s, k) => (sums[k]! += s));
  }
  return sums;
}

/** A pole round which more angle is missing isn't flat at all, radians. */
const PEAK = 0.5;

/**
 * Cuts from which a turned shape is joined: every ring, and one line along it where it costs least.
 *
 * @param costs of a seam along each edge
 * @param missing angle round each welded vertex
 */
export function turnedCuts(
  { rings, round, along, toPoles }: TurnedShape,
  { edges: { ends, uses } }: Topology,
  costs: Float64Array,
  missing: Float64Array,
): Uint8Array {
  const cuts = new Uint8Array(uses.length);
  for (const e of round) cuts[e] = 1;
  const priceAt = along.map((line) => line.reduce((sum, e) => sum + costs[e]!, 0));
  const line = priceAt.indexOf(Math.min(...priceAt));
  for (const e of along[line]!) cuts[e] = 1;
  const peaks = new Set(rings.filter((r) => r.length === 1 && missing[r[0]!]! > PEAK).map((r) => r[0]!));
  for (const e of toPoles[line]!) if (peaks.has(ends[e * 2]!) || peaks.has(ends[e * 2 + 1]!)) cuts[e] = 1;
  for (let e = 0; e < cuts.length; e++) if (uses[e] !== 2) cuts[e] = 0;
  return cuts;
}

/** Vertices by height and radius; null if the rings aren't even, or not alike. */
function ringsAbout(
  p: Float32Array,
  vertices: readonly number[],
  centre: Vec3,
  axis: Vec3,
  tolerance: number,
): number[][] | null {
  const side = Math.abs(axis[1]) < 0.9 ? cross(axis, [0, 1, 0]) : cross(axis, [1, 0, 0]);
  const x = scale(side, 1 / Math.hypot(...side));
  const y = cross(axis, x);
  const places = vertices.map((vertex): Place => {
    const d = sub([p[vertex * 3]!, p[vertex * 3 + 1]!, p[vertex * 3 + 2]!], centre);
    const [a, b] = [dot(d, x), dot(d, y)];
    return { vertex, height: dot(d, axis), radius: Math.hypot(a, b), angle: Math.atan2(b, a) };
  });
  const groups = clusters(places, (q) => q.height, tolerance).flatMap((level) =>
    clusters(level, (q) => q.radius, tolerance),
  );
  const count = Math.max(...groups.map((g) => g.length));
  if (count < LEAST_ROUND) return null;
  const isEven = groups.every((g) => g.length === count || (g.length === 1 && g[0]!.radius <= tolerance));
  if (!isEven) return null;
  const step = (2 * Math.PI) / count;
  const start = groups.find((g) => g.length === count)![0]!.angle;
  const rings: number[][] = [];
  for (const group of groups) {
    if (group.length === 1) {
      rings.push([group[0]!.vertex]);
      continue;
    }
    const ring = new Array<number>(count).fill(-1);
    for (const { vertex, angle } of group) {
      const steps = (((angle - start) / step) % count) + count;
      const nearest = Math.round(steps);
      if (Math.abs(steps - nearest) > SAME_ANGLE) return null;
      ring[nearest % count] = vertex;
    }
    if (ring.includes(-1)) return null;
    rings.push(ring);
  }
  return rings;
}

/** Places in groups between which there is a gap. */
function clusters(places: readonly Place[], of: (q: Place) => number, gap: number): Place[][] {
  const out: Place[][] = [];
  let last = -Infinity;
  for (const q of places.toSorted((a, b) => of(a) - of(b))) {
    if (of(q) - last > gap) out.push([]);
    out.at(-1)!.push(q);
    last = of(q);
  }
  return out;
}

function shapeOf(
  { edges: { ends, uses } }: Topology,
  rings: readonly (readonly number[])[],
): TurnedShape | null {
  const count = Math.max(...rings.map((ring) => ring.length));
  const placeOf = new Map<number, { ring: number; at: number }>();
  rings.forEach((ring, r) => ring.forEach((v, at) => placeOf.set(v, { ring: r, at })));
  const round: number[] = [];
  const along = Array.from({ length: count }, (): number[] => []);
  const toPoles = Array.from({ length: count }, (): number[] => []);
  const steps = new Map<string, number>();
  uses.forEach((n, e) => {
    const [a, b] = [placeOf.get(ends[e * 2]!), placeOf.get(ends[e * 2 + 1]!)];
    if (n === 0 || !a || !b) return;
    if (a.ring === b.ring) {
      round.push(e);
      return;
    }
    const isPole = rings[a.ring]!.length === 1 || rings[b.ring]!.length === 1;
    if (isPole) {
      toPoles[rings[a.ring]!.length === 1 ? b.at : a.at]!.push(e);
      return;
    }
    // Diagonals of quads run from angle to angle.
    if (a.at !== b.at) return;
    along[a.at]!.push(e);
    const name = `${Math.min(a.ring, b.ring)} ${Math.max(a.ring, b.ring)}`;
    steps.set(name, (steps.get(name) ?? 0) + 1);
  });
  const isWhole =
    [...steps.values()].every((n) => n === count) &&
    steps.size >= rings.filter((r) => r.length > 1).length - 1;
  return isWhole ? { rings, round, along, toPoles } : null;
}
