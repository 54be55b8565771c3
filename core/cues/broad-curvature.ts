import {
  boxDistance,
  buildBinaryTree,
  cornerOfEdge,
  edgeAngles,
  faceGeometry,
  topologyOf,
  type BinaryTree,
  type Mesh,
} from '../mesh';
import { mainAxes, type Vec3 } from '../math';

/** Edges that turn less than this are flat: a model of 100,000 triangles that is round as a whole turns more at each. Radians. */
const FLAT = 1e-3;

/** A direction counts where it has this much of all that bends; two alike have half each. */
const CLEAR = 0.62;

/** Tells the mean curvature around a place. */
export interface BroadCurvature {
  /**
   * The mean curvature over the part of the surface within a ball, per model unit; positive where it bulges.
   *
   * @param normal of the place, any length: edges that look away from it belong to another side and don't count
   */
  at(x: number, y: number, z: number, nx: number, ny: number, nz: number): number;
  /**
   * The direction in which the surface bends least there: along ridges and folds, around nothing.
   *
   * @returns of either sign; null where it bends alike in all directions, or not at all
   */
  direction(at: Vec3, normal: Vec3): Vec3 | null;
}

/**
 * Mean curvature at a scale: each edge carries half its turn times its length within the ball, spread over the disc that the ball cuts
 * out of the surface (D. Cohen-Steiner and J.-M. Morvan, "Restricted Delaunay triangulations and normal cycle", 2003). It tells of
 * the hard edges of a box of twelve triangles as of a dense sculpt, and of nothing finer than the radius.
 *
 * @param radius model units
 */
export function broadCurvature(mesh: Pick<Mesh, 'positions' | 'indices'>, radius: number): BroadCurvature {
  const { positions: p } = mesh;
  const topology = topologyOf(mesh);
  const { normals } = faceGeometry(mesh);
  const angles = edgeAngles(mesh, topology, normals);
  const corners = cornerOfEdge(topology);
  const { ends } = topology.edges;
  const bent: number[] = [];
  for (let e = 0; e < angles.length; e++) if (Math.abs(angles[e]!) > FLAT) bent.push(e);
  // Start, way, turn and normal of each: 10 numbers.
  const edges = new Float64Array(bent.length * 10);
  bent.forEach((e, i) => {
    const [a, b] = [ends[e * 2]! * 3, ends[e * 2 + 1]! * 3];
    const f = Math.floor(corners[e]! / 3) * 3;
    const g = Math.floor(topology.across[corners[e]!]! / 3) * 3;
    for (let k = 0; k < 3; k++) {
      edges[i * 10 + k] = p[a + k]!;
      edges[i * 10 + 3 + k] = p[b + k]! - p[a + k]!;
      edges[i * 10 + 7 + k] = normals[f + k]! + normals[g + k]!;
    }
    edges[i * 10 + 6] = angles[e]!;
  });
  if (bent.length === 0) return { at: () => 0, direction: () => null };
  // An edge is a triangle two of whose corners are one.
  const tree = buildBinaryTree(
    p,
    Uint32Array.from(bent.flatMap((e) => [ends[e * 2]!, ends[e * 2 + 1]!, ends[e * 2 + 1]!])),
  );
  const stack = new Int32Array(256);
  const disc = Math.PI * radius * radius;
  const r2 = radius * radius;
  /** How much of edge i lies within the ball around a place, if it looks to the same side; 0 else. */
  const within = (i: number, x: number, y: number, z: number, nx: number, ny: number, nz: number): number => {
    const o = i * 10;
    if (edges[o + 7]! * nx + edges[o + 8]! * ny + edges[o + 9]! * nz <= 0) return 0;
    const dx = edges[o + 3]!;
    const dy = edges[o + 4]!;
    const dz = edges[o + 5]!;
    const qx = x - edges[o]!;
    const qy = y - edges[o + 1]!;
    const qz = z - edges[o + 2]!;
    const long2 = dx * dx + dy * dy + dz * dz;
    if (!(long2 > 0)) return 0;
    const t = (qx * dx + qy * dy + qz * dz) / long2;
    const off2 = qx * qx + qy * qy + qz * qz - t * t * long2;
    if (off2 >= r2) return 0;
    const half = Math.sqrt((r2 - off2) / long2);
    const part = (t + half < 1 ? t + half : 1) - (t - half > 0 ? t - half : 0);
    return part > 0 ? part * Math.sqrt(long2) : 0;
  };
  return {
    at(x, y, z, nx, ny, nz) {
      let sum = 0;
      touchedBy(tree, stack, x, y, z, r2, (i) => {
        sum += edges[i * 10 + 6]! * within(i, x, y, z, nx, ny, nz);
      });
      return sum / 2 / disc;
    },
    direction(at, normal) {
      // The tensor of the same measure: each edge says that the surface bends across it.
      const m: [number, number, number, number, number, number] = [0, 0, 0, 0, 0, 0];
      touchedBy(tree, stack, ...at, r2, (i) => {
        const o = i * 10;
        const inside = within(i, ...at, ...normal);
        if (inside === 0) return;
        const d = [edges[o + 3]!, edges[o + 4]!, edges[o + 5]!] as const;
        const w = (Math.abs(edges[o + 6]!) * inside) / (d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
        m[0] += w * d[0] * d[0];
        m[1] += w * d[0] * d[1];
        m[2] += w * d[0] * d[2];
        m[3] += w * d[1] * d[1];
        m[4] += w * d[1] * d[2];
        m[5] += w * d[2] * d[2];
      });
      const whole = m[0] + m[3] + m[5];
      if (!(whole > 0)) return null;
      const axis = mainAxes(m)[0];
      const most =
        axis[0] * (m[0] * axis[0] + 2 * (m[1] * axis[1] + m[2] * axis[2])) +
        axis[1] * (m[3] * axis[1] + 2 * m[4] * axis[2]) +
        m[5] * axis[2] * axis[2];
      return most > whole * CLEAR ? axis : null;
    },
  };
}

/** Calls `each` with the numbers of a tree's items whose boxes a ball touches. */
function touchedBy(
  { bounds, first, count, order }: BinaryTree,
  stack: Int32Array,
  x: number,
  y: number,
  z: number,
  r2: number,
  each: (item: number) => void,
): void {
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top]!;
    if (boxDistance(bounds, node * 6, x, y, z) >= r2) continue;
    if (count[node]! > 0) {
      const end = first[node]! + count[node]!;
      for (let i = first[node]!; i < end; i++) each(order[i]!);
      continue;
    }
    stack[top++] = first[node]!;
    stack[top++] = first[node]! + 1;
  }
}
