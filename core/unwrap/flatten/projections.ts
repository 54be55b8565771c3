import { add, cross, dot, leastAxis, normalize, scale, sub, type Vec3 } from '../../math';
import { faceGeometry, topologyOf, type Mesh, type UvMesh } from '../../mesh';
import { cutIntoCharts } from '../segment/chart';
import { cornerUvs, withCornerUvs } from '../corner-uvs';
import { meanDensity } from '../edit-layout';

/** From where triangles are projected onto the sheet. */
export type Projection =
  | { readonly kind: 'plane'; readonly right: Vec3; readonly up: Vec3 }
  /** Each triangle from the side of a box that it looks toward most; seams fall where that changes. */
  | { readonly kind: 'box' }
  /** Unrolled round the axis that the triangles themselves lie round. */
  | { readonly kind: 'cylinder' }
  /** By longitude and latitude round their middle, the poles above and below. */
  | { readonly kind: 'sphere' };

/** Right and up for a view from +x, -x, +y, -y, +z, -z. */
const SIDES: readonly { readonly right: Vec3; readonly up: Vec3 }[] = [
  { right: [0, 0, -1], up: [0, 1, 0] },
  { right: [0, 0, 1], up: [0, 1, 0] },
  { right: [1, 0, 0], up: [0, 0, -1] },
  { right: [1, 0, 0], up: [0, 0, 1] },
  { right: [1, 0, 0], up: [0, 1, 0] },
  { right: [-1, 0, 0], up: [0, 1, 0] },
];

/** A point's u and v, in units of the surface. */
interface Projector {
  readonly place: (p: Vec3) => readonly [number, number];
  /** The way once round; 0 where it doesn't go round. */
  readonly round: number;
}

/**
 * Projects triangles. Each piece of the result has the mean density and lies, upright, in the middle of where it was, but within the
 * sheet if it has room there, or else in its middle.
 */
export function projectFaces(mesh: UvMesh, faces: readonly number[], projection: Projection): UvMesh {
  const density = meanDensity(mesh);
  const uvs = cornerUvs(mesh);
  const topology = topologyOf(mesh);
  const cuts = new Uint8Array(topology.edges.uses.length);
  const { normals, areas } = faceGeometry(mesh);
  const sideOf = (f: number): number => mainSide(normals, f);
  if (projection.kind === 'box') {
    topology.across.forEach((o, c) => {
      if (o >= 0 && sideOf(Math.floor(o / 3)) !== sideOf(Math.floor(c / 3)))
        cuts[topology.edges.ofCorner[c]!] = 1;
    });
  }
  const whole = projection.kind === 'box' ? null : projectorOf({ mesh, faces, normals, areas }, projection);
  for (const chart of cutIntoCharts(mesh, topology, cuts, faces)) {
    const flat = projectChart(mesh, chart.faces, whole ?? fromSide(SIDES[sideOf(chart.faces[0]!)]!));
    for (const axis of [0, 1]) {
      const move = moveTo(flat, uvs, chart.faces, axis, density);
      chart.faces.forEach((f, i) => {
        for (let k = 0; k < 3; k++)
          uvs[(f * 3 + k) * 2 + axis] = density * flat[(i * 3 + k) * 2 + axis]! + move;
      });
    }
  }
  return withCornerUvs(mesh, uvs);
}

/** How far projected points must be moved along one axis, so that their middle is where it was, and none lie beyond the sheet. */
function moveTo(
  flat: Float64Array,
  uvs: Float32Array,
  faces: Uint32Array,
  axis: number,
  density: number,
): number {
  let move = 0;
  let low = Infinity;
  let high = -Infinity;
  faces.forEach((f, i) => {
    for (let k = 0; k < 3; k++) {
      const x = density * flat[(i * 3 + k) * 2 + axis]!;
      move += (uvs[(f * 3 + k) * 2 + axis]! - x) / (faces.length * 3);
      low = Math.min(low, x);
      high = Math.max(high, x);
    }
  });
  if (high - low > 1) return 0.5 - (low + high) / 2;
  return Math.min(1 - high, Math.max(-low, move));
}

/** 0 +x, 1 -x, 2 +y, 3 -y, 4 +z, 5 -z: the side that a flat triangle looks toward most. */
function mainSide(normals: Float64Array, f: number): number {
  let axis = 0;
  for (let a = 1; a < 3; a++) if (Math.abs(normals[f * 3 + a]!) > Math.abs(normals[f * 3 + axis]!)) axis = a;
  return axis * 2 + (normals[f * 3 + axis]! < 0 ? 1 : 0);
}

/** uv a corner. */
function projectChart(mesh: UvMesh, faces: Uint32Array, { place, round }: Projector): Float64Array {
  const flat = new Float64Array(faces.length * 6);
  faces.forEach((f, i) => {
    const points = [0, 1, 2].map((k) => place(pointAt(mesh, mesh.indices[f * 3 + k]!)));
    // A triangle across the opening is brought to one side of it.
    const widest = Math.max(...points.map((p) => p[0]));
    points.forEach((p, k) => {
      const across = round > 0 && widest - p[0] > round / 2 ? round : 0;
      flat.set([p[0] + across, p[1]], (i * 3 + k) * 2);
    });
  });
  return flat;
}

const pointAt = ({ positions: p }: Mesh, v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];

const fromSide = ({ right, up }: { readonly right: Vec3; readonly up: Vec3 }): Projector => ({
  place: (p) => [dot(p, right), dot(p, up)],
  round: 0,
});

interface Chosen {
  readonly mesh: Mesh;
  readonly faces: readonly number[];
  readonly normals: Float64Array;
  readonly areas: Float64Array;
}

function projectorOf(chosen: Chosen, projection: Exclude<Projection, { kind: 'box' }>): Projector {
  if (projection.kind === 'plane') return fromSide(projection);
  const axis: Vec3 =
    projection.kind === 'sphere' ? [0, 1, 0] : upright(leastAxis(normalSums(chosen)) ?? [0, 1, 0]);
  // What looks to the front (+z) comes to lie in the middle; seen from outside, right is right.
  const toFront: Vec3 = Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [0, -1, 0];
  const front = normalize(sub(toFront, scale(axis, dot(toFront, axis))));
  const right = cross(axis, front);
  const points = chosen.faces.flatMap((f) =>
    [0, 1, 2].map((k) => pointAt(chosen.mesh, chosen.mesh.indices[f * 3 + k]!)),
  );
  const middle: Vec3 = [
    meanOf(points, (p) => p[0]),
    meanOf(points, (p) => p[1]),
    meanOf(points, (p) => p[2]),
  ];
  const centre = projection.kind === 'sphere' ? middle : nearestToNormals(chosen, middle, front, right);
  const local = (p: Vec3): readonly [along: number, x: number, z: number] => {
    const d = sub(p, centre);
    return [dot(d, axis), dot(d, right), dot(d, front)];
  };
  const radius =
    meanOf(points, (p) => {
      const [along, x, z] = local(p);
      return projection.kind === 'sphere' ? Math.hypot(along, x, z) : Math.hypot(x, z);
    }) || 1;
  const angles = points.map((p) => Math.atan2(local(p)[1], local(p)[2]));
  const opening = openingOf(angles);
  return {
    round: 2 * Math.PI * radius,
    place: (p) => {
      const [along, x, z] = local(p);
      const angle = Math.atan2(x, z);
      const v = projection.kind === 'sphere' ? Math.atan2(along, Math.hypot(x, z)) * radius : along;
      return [(angle < opening ? angle + 2 * Math.PI : angle) * radius, v];
    },
  };
}

const meanOf = (points: readonly Vec3[], value: (p: Vec3) => number): number =>
  points.reduce((sum, p) => sum + value(p) / points.length, 0);

/** Products of the normals, by area. The normals of a cylinder all stand on its axis. */
function normalSums({ faces, normals, areas }: Chosen): [number, number, number, number, number, number] {
  const out: [number, number, number, number, number, number] = [0, 0, 0, 0, 0, 0];
  for (const f of faces) {
    const [x, y, z] = [normals[f * 3]!, normals[f * 3 + 1]!, normals[f * 3 + 2]!];
    [x * x, x * y, x * z, y * y, y * z, z * z].forEach((p, i) => (out[i]! += p * areas[f]!));
  }
  return out;
}

/** Of both directions along an axis the one that points up; to the right if it lies, to the front if neither. */
function upright(axis: Vec3): Vec3 {
  const decides = [axis[1], axis[0], axis[2]].find((x) => Math.abs(x) > 0.2) ?? 1;
  return decides < 0 ? scale(axis, -1) : axis;
}

/**
 * The point of a plane that lies nearest to the lines along all normals: the middle of a circle, also if only an arc of it is there.
 * The middle of all corners where the normals don't tell.
 */
function nearestToNormals(
  { mesh, faces, normals, areas }: Chosen,
  middle: Vec3,
  front: Vec3,
  right: Vec3,
): Vec3 {
  let [xx, xz, zz, bx, bz, total] = [0, 0, 0, 0, 0, 0];
  for (const f of faces) {
    const n: Vec3 = [normals[f * 3]!, normals[f * 3 + 1]!, normals[f * 3 + 2]!];
    const [nx, nz] = [dot(n, right), dot(n, front)];
    const l = Math.hypot(nx, nz) || 1;
    const [tx, tz] = [-nz / l, nx / l];
    const w = areas[f]!;
    const p = [0, 1, 2].reduce<Vec3>(
      (sum, k) => {
        const at = sub(pointAt(mesh, mesh.indices[f * 3 + k]!), middle);
        return [sum[0] + at[0] / 3, sum[1] + at[1] / 3, sum[2] + at[2] / 3];
      },
      [0, 0, 0],
    );
    // Only the distance across the line counts: (p - c) · t is to be 0.
    const across = dot(p, right) * tx + dot(p, front) * tz;
    xx += w * tx * tx;
    xz += w * tx * tz;
    zz += w * tz * tz;
    bx += w * tx * across;
    bz += w * tz * across;
    total += w;
  }
  const det = xx * zz - xz * xz;
  if (det < 1e-6 * total * total) return middle;
  const x = (bx * zz - bz * xz) / det;
  const z = (bz * xx - bx * xz) / det;
  return add(middle, add(scale(right, x), scale(front, z)));
}

/** A gap between angles that is so wide means that there is nothing; radians. */
const GAP = Math.PI / 4;

/**
 * Where what goes round is opened: in the middle of the widest gap, or, where it goes round all the way, of a gap between corners at
 * the back, so that whole columns of triangles come to lie on one side and the seam runs along their edges.
 *
 * @returns -π..π
 */
function openingOf(angles: readonly number[]): number {
  const sorted = Float64Array.from(angles).sort();
  const gaps = Array.from(sorted, (from, i) => {
    const to = i + 1 < sorted.length ? sorted[i + 1]! : sorted[0]! + 2 * Math.PI;
    const middle = (from + to) / 2;
    return { width: to - from, middle: middle > Math.PI ? middle - 2 * Math.PI : middle };
  });
  const widest = gaps.reduce((a, b) => (b.width > a.width ? b : a));
  if (widest.width > GAP) return widest.middle;
  return gaps
    .filter((gap) => gap.width > widest.width / 2)
    .reduce((a, b) => (Math.abs(b.middle) > Math.abs(a.middle) ? b : a)).middle;
}
