import { type Mesh, type Topology, nextCorner, previousCorner } from '../../mesh';
import { oppositeCorners } from './chart-edges';

/** A piece of surface to be flattened: vertices of its own, split where it was cut. */
export interface Chart {
  /** xyz a vertex. */
  readonly positions: Float32Array;
  /** Three vertices a triangle. */
  readonly indices: Uint32Array;
}

/** A chart that knows where in its mesh it comes from. */
export interface CutChart extends Chart {
  /** Triangles of the mesh, in the order of the chart's own. */
  readonly faces: Uint32Array;
}

/**
 * Takes the mesh apart along the marked edges. Open edges, edges with more than two triangles and edges where the winding
 * changes are always cut. Triangles meet in a chart's vertex only if they can be walked from one to the other round it, so a
 * cut that ends inside a chart opens a slit.
 *
 * @param cut 1 for each edge that is a seam
 * @param faces the triangles to take; all if left out
 * @returns the charts in the order of their first triangles
 */
export function cutIntoCharts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  cut: Uint8Array,
  faces?: Iterable<number>,
): CutChart[] {
  const { across, edges, twisted } = topology;
  const list = faces
    ? Uint32Array.from(faces).sort()
    : Uint32Array.from({ length: mesh.indices.length / 3 }, (_, f) => f);
  // Everything below is numbered within the list, so that a small piece of a large mesh costs little.
  const placeOf = faces ? new Map(Array.from(list, (f, i) => [f, i])) : null;
  const beyond = new Int32Array(list.length * 3).fill(-1);
  for (let i = 0; i < list.length; i++) {
    for (let k = 0; k < 3; k++) {
      const c = list[i]! * 3 + k;
      const o = across[c]!;
      const e = edges.ofCorner[c]!;
      if (o < 0 || cut[e] || twisted[e]) continue;
      const g = Math.floor(o / 3);
      const j = placeOf ? placeOf.get(g) : g;
      if (j !== undefined) beyond[i * 3 + k] = j * 3 + (o % 3);
    }
  }
  const vertexOf = joinCorners(beyond);
  // Which vertex of its chart each lowest corner has become.
  const local = new Int32Array(beyond.length).fill(-1);
  return groups(beyond).map((group) => gather(mesh, list, group, vertexOf, local));
}

/** Sets of triangles that hang together, each in rising order. */
function groups(beyond: Int32Array): Uint32Array[] {
  const count = beyond.length / 3;
  const seen = new Uint8Array(count);
  const queue = new Uint32Array(count);
  const out: Uint32Array[] = [];
  let end = 0;
  for (let first = 0; first < count; first++) {
    if (seen[first]) continue;
    const begin = end;
    seen[first] = 1;
    queue[end++] = first;
    for (let at = begin; at < end; at++) {
      const i = queue[at]!;
      for (let c = i * 3; c < i * 3 + 3; c++) {
        if (beyond[c]! < 0) continue;
        const j = Math.floor(beyond[c]! / 3);
        if (seen[j]) continue;
        seen[j] = 1;
        queue[end++] = j;
      }
    }
    out.push(queue.subarray(begin, end).sort());
  }
  return out;
}

/** For every corner the lowest corner that shares its vertex. */
function joinCorners(beyond: Int32Array): Int32Array {
  const root = new Int32Array(beyond.length).fill(-1);
  // Round each vertex once: on across each corner's edge until it comes back or ends, then the other way. Corners are met in
  // rising order, so that the first one of a vertex is its lowest.
  for (let c = 0; c < beyond.length; c++) {
    if (root[c]! >= 0) continue;
    root[c] = c;
    let at = c;
    for (;;) {
      const o = beyond[previousCorner(at)]!;
      if (o < 0) break;
      at = o;
      if (root[at]! >= 0) break;
      root[at] = c;
    }
    at = c;
    for (;;) {
      const o = beyond[at]!;
      if (o < 0) break;
      at = nextCorner(o);
      if (root[at]! >= 0) break;
      root[at] = c;
    }
  }
  return root;
}

/** @param local scratch: -1 for each corner, and again when it returns */
function gather(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  list: Uint32Array,
  group: Uint32Array,
  vertexOf: Int32Array,
  local: Int32Array,
): CutChart {
  const positions = new Float32Array(group.length * 9);
  const indices = new Uint32Array(group.length * 3);
  const faces = new Uint32Array(group.length);
  let vertices = 0;
  for (let at = 0; at < group.length; at++) {
    const i = group[at]!;
    faces[at] = list[i]!;
    for (let k = 0; k < 3; k++) {
      const root = vertexOf[i * 3 + k]!;
      if (local[root]! < 0) {
        local[root] = vertices;
        const p = mesh.indices[list[Math.floor(root / 3)]! * 3 + (root % 3)]! * 3;
        positions[vertices * 3] = mesh.positions[p]!;
        positions[vertices * 3 + 1] = mesh.positions[p + 1]!;
        positions[vertices * 3 + 2] = mesh.positions[p + 2]!;
        vertices++;
      }
      indices[at * 3 + k] = local[root]!;
    }
  }
  for (const i of group) for (let k = 0; k < 3; k++) local[vertexOf[i * 3 + k]!] = -1;
  return { faces, positions: positions.slice(0, vertices * 3), indices };
}

/** The shape of a chart: its borders and what they say of it. */
export interface ChartShape {
  /** Vertices of each border in order, the longest border first. */
  readonly loops: readonly (readonly number[])[];
  /** 2 for a closed ball, 1 for a disc, 0 for a ring, less for what has holes or handles. */
  readonly euler: number;
}

/** @param opposite of `oppositeCorners` */
export function shapeOf(
  { indices, positions }: Chart,
  opposite: Int32Array = oppositeCorners(indices, positions.length / 3),
): ChartShape {
  const count = positions.length / 3;
  // Borders may touch themselves in a vertex, so several may leave from one: a list of corners at each.
  const first = new Int32Array(count).fill(-1);
  const next = new Int32Array(indices.length);
  const border: number[] = [];
  for (let c = 0; c < indices.length; c++) {
    if (opposite[c]! >= 0) continue;
    border.push(c);
    next[c] = first[indices[c]!]!;
    first[indices[c]!] = c;
  }
  const take = (v: number): number => {
    const c = first[v]!;
    if (c >= 0) first[v] = next[c]!;
    return c;
  };
  const loops: number[][] = [];
  for (const c of border) {
    const start = indices[c]!;
    for (let on = take(start); on >= 0; on = take(start)) {
      const loop = [start];
      for (let v = indices[nextCorner(on)]!; v !== start; v = indices[nextCorner(on)]!) {
        loop.push(v);
        on = take(v);
        if (on < 0) break;
      }
      loops.push(loop);
    }
  }
  const length = (loop: readonly number[]): number =>
    loop.reduce((sum, v, i) => sum + distance(positions, v, loop[(i + 1) % loop.length]!), 0);
  loops.sort((a, b) => length(b) - length(a));
  const edges = (indices.length + border.length) / 2;
  return { loops, euler: count - edges + indices.length / 3 };
}

/** Between vertices a and b. @param p xyz a vertex */
export const distance = (p: Float32Array, a: number, b: number): number =>
  Math.hypot(p[b * 3]! - p[a * 3]!, p[b * 3 + 1]! - p[a * 3 + 1]!, p[b * 3 + 2]! - p[a * 3 + 2]!);
