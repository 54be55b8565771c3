import { edgeTable, type EdgeTable } from './edges';
import type { UvMesh } from './mesh';
import { vertexSheets } from './sheets';
import { weldExact } from './weld';

/** The pieces into which the UV layout falls. */
export interface Islands {
  readonly count: number;
  /** Island number a triangle, 0 upward in the order of the triangles. */
  readonly ofFace: Uint32Array;
  /** Edges over vertices welded by position and UV: one with a single use lies on an island's border. */
  readonly edges: EdgeTable;
}

/** Triangles belong to one island when they share an edge both in space and in UV, on one sheet. */
export function findIslands(mesh: UvMesh): Islands {
  const sheets = vertexSheets(mesh);
  const welded = weldExact(
    { data: mesh.positions, stride: 3 },
    { data: mesh.uvs, stride: 2 },
    ...(sheets ? [{ data: sheets, stride: 1 }] : []),
  );
  const edges = edgeTable(mesh.indices, welded);
  return { ...groupByEdge(edges, mesh.indices.length / 3), edges };
}

/** Numbers the sets of triangles that hang together by shared edges. */
export function groupByEdge(edges: EdgeTable, faces: number): { count: number; ofFace: Uint32Array } {
  const parent = Int32Array.from({ length: faces }, (_, i) => i);
  const find = (f: number): number => {
    while (parent[f] !== f) {
      parent[f] = parent[parent[f]!]!;
      f = parent[f]!;
    }
    return f;
  };
  const firstFace = new Int32Array(edges.uses.length).fill(-1);
  for (let c = 0; c < edges.ofCorner.length; c++) {
    const e = edges.ofCorner[c]!;
    const f = Math.floor(c / 3);
    if (firstFace[e]! < 0) firstFace[e] = f;
    else parent[find(f)] = find(firstFace[e]!);
  }
  const ofFace = new Uint32Array(faces);
  const numbers = new Map<number, number>();
  for (let f = 0; f < faces; f++) {
    const root = find(f);
    let n = numbers.get(root);
    if (n === undefined) numbers.set(root, (n = numbers.size));
    ofFace[f] = n;
  }
  return { count: numbers.size, ofFace };
}
