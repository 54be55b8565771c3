import { edgeTable, type EdgeTable } from './edges';
import type { Mesh } from './mesh';
import { weldPlaces } from './weld';

/**
 * How a mesh hangs together in space. Corner c = 3 * triangle + k stands for the vertex at k and for the edge from k to the
 * next corner. Splits between vertices of one position, as UVs and hard normals make them, don't count, so the numbers of
 * corners and edges stay the same whatever the layout is.
 */
export interface Topology {
  /** For every vertex the first one at its place; see `weldPlaces`. */
  readonly welded: Uint32Array;
  readonly edges: EdgeTable;
  /** The corner on the other side of each corner's edge; -1 where the edge is open, or has more than two triangles. */
  readonly across: Int32Array;
  /** 1 for an edge whose two triangles run along it in the same direction: one of them faces the other way. */
  readonly twisted: Uint8Array;
}

/** The corner after c in its triangle. */
export const nextCorner = (c: number): number => (c % 3 === 2 ? c - 2 : c + 1);
/** The corner before c in its triangle. */
export const previousCorner = (c: number): number => (c % 3 === 0 ? c + 2 : c - 1);

/** @param mesh positions xyz a vertex, three vertices a triangle */
export function topologyOf(mesh: Pick<Mesh, 'positions' | 'indices'>): Topology {
  const welded = weldPlaces(mesh.positions);
  const edges = edgeTable(mesh.indices, welded);
  const across = new Int32Array(mesh.indices.length).fill(-1);
  const twisted = new Uint8Array(edges.uses.length);
  const seen = new Int32Array(edges.uses.length).fill(-1);
  for (let c = 0; c < mesh.indices.length; c++) {
    const e = edges.ofCorner[c]!;
    if (edges.uses[e] !== 2 || edges.ends[e * 2] === edges.ends[e * 2 + 1]) continue;
    const other = seen[e]!;
    if (other < 0) {
      seen[e] = c;
      continue;
    }
    across[c] = other;
    across[other] = c;
    if (welded[mesh.indices[c]!] === welded[mesh.indices[other]!]) twisted[e] = 1;
  }
  return { welded, edges, across, twisted };
}

/** One corner for each edge: the lowest that runs along it. Seams are kept as such corners. */
export function cornerOfEdge({ edges }: Topology): Uint32Array {
  const out = new Uint32Array(edges.uses.length);
  for (let c = edges.ofCorner.length - 1; c >= 0; c--) out[edges.ofCorner[c]!] = c;
  return out;
}

/** Length of each edge, model units. */
export function edgeLengths({ edges }: Topology, positions: Float32Array): Float64Array {
  const out = new Float64Array(edges.uses.length);
  for (let e = 0; e < out.length; e++) {
    const a = edges.ends[e * 2]! * 3;
    const b = edges.ends[e * 2 + 1]! * 3;
    const x = positions[b]! - positions[a]!;
    const y = positions[b + 1]! - positions[a + 1]!;
    const z = positions[b + 2]! - positions[a + 2]!;
    out[e] = Math.sqrt(x * x + y * y + z * z);
  }
  return out;
}

/**
 * The turn over each edge with two triangles, radians: 0 flat, positive over a ridge, negative in a valley; 0 elsewhere.
 */
export function edgeAngles(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  normals: Float64Array,
): Float64Array {
  const { positions: p, indices } = mesh;
  const out = new Float64Array(topology.edges.uses.length);
  for (let c = 0; c < indices.length; c++) {
    const o = topology.across[c]!;
    if (o < c) continue;
    const f = Math.floor(c / 3) * 3;
    const g = Math.floor(o / 3) * 3;
    const cos =
      normals[f]! * normals[g]! + normals[f + 1]! * normals[g + 1]! + normals[f + 2]! * normals[g + 2]!;
    const angle = Math.acos(Math.min(1, Math.max(-1, cos)));
    // Where the far triangle's third corner lies under the near triangle's plane, the edge is a ridge.
    const tip = indices[previousCorner(o)]! * 3;
    const root = indices[c]! * 3;
    const under =
      normals[f]! * (p[tip]! - p[root]!) +
      normals[f + 1]! * (p[tip + 1]! - p[root + 1]!) +
      normals[f + 2]! * (p[tip + 2]! - p[root + 2]!);
    out[topology.edges.ofCorner[c]!] = under <= 0 ? angle : -angle;
  }
  return out;
}
