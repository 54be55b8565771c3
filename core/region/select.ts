import { ClosestPoint, faceGeometry, type Mesh, type SurfacePoint, type Topology } from '../mesh';

/** Every triangle that touches one of these, and these. */
export function grownFaces(
  mesh: Pick<Mesh, 'indices'>,
  { welded }: Topology,
  faces: Iterable<number>,
): Set<number> {
  const { indices } = mesh;
  const touched = new Set<number>();
  const out = new Set(faces);
  for (const f of out) for (let k = 0; k < 3; k++) touched.add(welded[indices[f * 3 + k]!]!);
  for (let c = 0; c < indices.length; c++) if (touched.has(welded[indices[c]!]!)) out.add(Math.floor(c / 3));
  return out;
}

/** Of these triangles those that touch none but these. */
export function shrunkFaces(
  mesh: Pick<Mesh, 'indices'>,
  topology: Topology,
  faces: Iterable<number>,
): Set<number> {
  const inside = new Set(faces);
  const outside: number[] = [];
  for (let f = 0; f < mesh.indices.length / 3; f++) if (!inside.has(f)) outside.push(f);
  const reached = grownFaces(mesh, topology, outside);
  return new Set([...inside].filter((f) => !reached.has(f)));
}

/** Every triangle that isn't among these. */
export function otherFaces(count: number, faces: ReadonlySet<number>): Set<number> {
  const out = new Set<number>();
  for (let f = 0; f < count; f++) if (!faces.has(f)) out.add(f);
  return out;
}

/**
 * The triangles that hang together with one, as far as a way over edges may go.
 *
 * @param crosses whether the edge at a corner may be crossed to the triangle `to`
 */
export function flood(
  { across }: Topology,
  from: number,
  crosses: (corner: number, to: number) => boolean,
): Set<number> {
  const out = new Set([from]);
  const open = [from];
  while (open.length) {
    const f = open.pop()!;
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const other = across[c]!;
      if (other < 0) continue;
      const to = Math.floor(other / 3);
      if (out.has(to) || !crosses(c, to)) continue;
      out.add(to);
      open.push(to);
    }
  }
  return out;
}

/** What hangs together with a triangle and looks to the same side as it. @param angle the most that it may turn away, radians */
export function sameFacing(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  from: number,
  angle: number,
): Set<number> {
  const { normals: n } = faceGeometry(mesh);
  const least = Math.cos(angle);
  const cos = (f: number): number =>
    n[f * 3]! * n[from * 3]! + n[f * 3 + 1]! * n[from * 3 + 1]! + n[f * 3 + 2]! * n[from * 3 + 2]!;
  return flood(topology, from, (_c, to) => cos(to) >= least);
}

/**
 * The area around a triangle up to where something bounds it: edges that turn by more than an angle, seams, borders of parts and those
 * of regions.
 *
 * @param seams corners that stand for edges, each by the lowest that runs along it
 */
export function boundedArea(
  mesh: Pick<Mesh, 'positions' | 'indices' | 'faceParts'>,
  topology: Topology,
  from: number,
  bounds: {
    readonly crease: number;
    readonly seams: readonly number[];
    readonly regions: readonly (readonly number[])[];
  },
): Set<number> {
  const { normals: n } = faceGeometry(mesh);
  const least = Math.cos(bounds.crease);
  const seams = new Set(bounds.seams.map((c) => topology.edges.ofCorner[c]!));
  const regions = bounds.regions.map((faces) => new Set(faces));
  return flood(topology, from, (c, to) => {
    const f = Math.floor(c / 3);
    if (mesh.faceParts[f] !== mesh.faceParts[to] || seams.has(topology.edges.ofCorner[c]!)) return false;
    if (regions.some((region) => region.has(f) !== region.has(to))) return false;
    return n[f * 3]! * n[to * 3]! + n[f * 3 + 1]! * n[to * 3 + 1]! + n[f * 3 + 2]! * n[to * 3 + 2]! >= least;
  });
}

const finders = new WeakMap<Float32Array, ClosestPoint>();

/** Finds places on a mesh; made once for its positions, since a brush asks with every move. */
function closestOn({ positions, indices }: Pick<Mesh, 'positions' | 'indices'>): ClosestPoint {
  let known = finders.get(positions);
  if (!known) {
    finders.set(positions, (known = new ClosestPoint(positions, indices)));
  }
  return known;
}

/** The place of a mesh that is nearest to a point. */
export function placeNear(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  x: number,
  y: number,
  z: number,
): SurfacePoint {
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: Infinity };
  closestOn(mesh).find(x, y, z, place);
  return place;
}

/** These triangles and those that lie over from them on the other side of x = 0, each where its middle is nearest to. */
export function withMirrored(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  faces: Iterable<number>,
): Set<number> {
  const { positions: p, indices } = mesh;
  const out = new Set(faces);
  const closest = closestOn(mesh);
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: Infinity };
  for (const f of [...out]) {
    const middle = [0, 1, 2].map(
      (k) =>
        (p[indices[f * 3]! * 3 + k]! + p[indices[f * 3 + 1]! * 3 + k]! + p[indices[f * 3 + 2]! * 3 + k]!) / 3,
    ) as [number, number, number];
    closest.find(-middle[0], middle[1], middle[2], place);
    out.add(place.face);
  }
  return out;
}
