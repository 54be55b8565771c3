import { edgeTable, type EdgeTable } from './edges';
import type { UvMesh } from './mesh';
import { vertexSheets } from './sheets';
import { weldExact, weldPlaces } from './weld';

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
    { data: Float32Array.from(weldPlaces(mesh.positions)), stride: 1 },
    { data: mesh.uvs, stride: 2 },
    ...(sheets ? [{ data: sheets, stride: 1 }] : []),
  );
  const edges = edgeTable(mesh.indices, welded);
  return { ...groupByEdge(edges, mesh.indices.length / 3), edges };
}

/** The sides of islands: where an island is folded onto itself, as a mirrored half onto the other, each side of the fold is one. */
export interface IslandSides {
  readonly count: number;
  /** Islands, whatever is folded. */
  readonly islands: number;
  /** Side a triangle, 0 upward in the order of the triangles. */
  readonly ofFace: Uint32Array;
  /** 1 a corner whose edge (to the next) is a border of its side. */
  readonly borders: Uint8Array;
}

/** Triangles belong to one side of an island when they share an edge both in space and in UV, and face the same way in the layout. */
export function findIslandSides(mesh: UvMesh): IslandSides {
  const { edges, count: islands } = findIslands(mesh);
  const faces = mesh.indices.length / 3;
  const ways = Uint8Array.from({ length: faces }, (_, f) => 1 + Math.sign(flatArea2(mesh, f)));
  // Each edge once a way of facing: triangles that face differently don't share it.
  const wayed = new Map<number, number>();
  const ofCorner = new Uint32Array(edges.ofCorner.length);
  const uses: number[] = [];
  edges.ofCorner.forEach((edge, c) => {
    const key = edge * 3 + ways[Math.floor(c / 3)]!;
    let own = wayed.get(key);
    if (own === undefined) {
      wayed.set(key, (own = uses.length));
      uses.push(0);
    }
    ofCorner[c] = own;
    uses[own]!++;
  });
  const table = { ends: new Uint32Array(), uses: Uint32Array.from(uses), ofCorner };
  return {
    ...groupByEdge(table, faces),
    islands,
    borders: Uint8Array.from(ofCorner, (e) => (uses[e] === 1 ? 1 : 0)),
  };
}

/** Twice the area of a triangle in the layout, below 0 where it lies face down. */
function flatArea2({ indices, uvs }: UvMesh, face: number): number {
  const at = (k: number): [number, number] => {
    const v = indices[face * 3 + k]! * 2;
    return [uvs[v]!, uvs[v + 1]!];
  };
  const [[ax, ay], [bx, by], [cx, cy]] = [at(0), at(1), at(2)];
  return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
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
