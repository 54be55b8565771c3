import { CoreError } from '../errors';
import { boundsOf, diagonalOf, findIslands, sheetOfFace, topologyOf, type UvMesh } from '../mesh';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { mirrorImages } from './mirror-images';

/** Two islands that are one another's mirror image across x = 0. */
export interface Twins {
  /** Triangles of the one that stays where it is on the sheet. */
  readonly first: readonly number[];
  readonly second: readonly number[];
  /** For each corner of the second's triangles, in their order, the corner of the first that mirrors it. */
  readonly corners: Uint32Array;
}

/** Places this near, in parts of the diagonal, mirror one another: hand-made models are even to about a thousandth of it. */
const REACH = 1e-4;

/** Finds pairs of mirrored islands. @param faces islands that count, by any of their triangles; all if empty */
export function findTwins(mesh: UvMesh, faces: readonly number[] = []): Twins[] {
  const { ofFace, count } = findIslands(mesh);
  const { welded } = topologyOf(mesh);
  const reach = REACH * diagonalOf(boundsOf(mesh.positions));
  const mirrored = mirrorImages(mesh.positions, welded, { point: [0, 0, 0], normal: [1, 0, 0] }, reach);
  const vertexOf = (corner: number): number => welded[mesh.indices[corner]!]!;
  const wanted = faces.length ? new Set(faces.map((f) => ofFace[f])) : null;
  const islands: number[][] = Array.from({ length: count }, () => []);
  ofFace.forEach((island, f) => {
    if (!wanted || wanted.has(island)) islands[island]!.push(f);
  });
  const cornersOf = (list: readonly number[]): number[] => list.flatMap((f) => [f * 3, f * 3 + 1, f * 3 + 2]);
  /** Mirrored islands have mirrored vertices, however their quads are cut into triangles. */
  const nameOf = (list: readonly number[], of: (vertex: number) => number): string =>
    [...new Set(cornersOf(list).map((c) => of(vertexOf(c))))].sort((a, b) => a - b).join(' ');
  const byVertices = new Map<string, number>();
  islands.forEach((list, island) => {
    if (list.length)
      byVertices.set(
        nameOf(list, (v) => v),
        island,
      );
  });
  const taken = new Set<number>();
  const out: Twins[] = [];
  islands.forEach((first, island) => {
    if (first.length === 0 || taken.has(island)) return;
    const other = byVertices.get(nameOf(first, (v) => mirrored.get(v) ?? -1));
    if (other === undefined || other === island || taken.has(other)) return;
    const second = islands[other]!;
    const corners =
      second.length === first.length ? pairCorners(mesh, first, second, vertexOf, mirrored) : null;
    if (!corners) return;
    taken.add(island).add(other);
    out.push({ first, second, corners });
  });
  return out;
}

/** For each corner of the second's triangles the corner of the first that mirrors it; null if there is none for one. */
function pairCorners(
  mesh: UvMesh,
  first: readonly number[],
  second: readonly number[],
  vertexOf: (corner: number) => number,
  mirrored: ReadonlyMap<number, number>,
): Uint32Array | null {
  const byVertex = new Map<number, number>();
  /** Vertices on a seam within the island, which have several places on the sheet. */
  const torn = new Set<number>();
  const byTriangle = new Map<string, number>();
  const key = (vertices: readonly number[]): string => [...vertices].sort((a, b) => a - b).join(' ');
  const uvOf = (corner: number): string => {
    const v = mesh.indices[corner]! * 2;
    return `${mesh.uvs[v]} ${mesh.uvs[v + 1]}`;
  };
  for (const f of first) {
    const images = [0, 1, 2].map((k) => mirrored.get(vertexOf(f * 3 + k))!);
    byTriangle.set(key(images), f);
    images.forEach((v, k) => {
      const known = byVertex.get(v);
      if (known === undefined) byVertex.set(v, f * 3 + k);
      else if (uvOf(known) !== uvOf(f * 3 + k)) torn.add(v);
    });
  }
  const out = new Uint32Array(second.length * 3);
  for (let i = 0; i < second.length; i++) {
    const f = second[i]!;
    const vertices = [0, 1, 2].map((k) => vertexOf(f * 3 + k));
    const twin = byTriangle.get(key(vertices));
    for (let k = 0; k < 3; k++) {
      const own =
        twin === undefined
          ? -1
          : [0, 1, 2].findIndex((j) => mirrored.get(vertexOf(twin * 3 + j)) === vertices[k]);
      if (own >= 0) out[i * 3 + k] = twin! * 3 + own;
      else if (!torn.has(vertices[k]!) && byVertex.has(vertices[k]!))
        out[i * 3 + k] = byVertex.get(vertices[k]!)!;
      else return null;
    }
  }
  return out;
}

/**
 * Lays each mirrored twin on the other, so that both show the same texels. Light from one side can't be right on both.
 *
 * @throws CoreError `bad-argument` if there are none
 */
export function stackTwins(mesh: UvMesh, faces: readonly number[] = []): UvMesh {
  const twins = findTwins(mesh, faces);
  if (twins.length === 0) {
    throw new CoreError(
      'bad-argument',
      'No island there is the mirror image of another across x = 0. Cut both sides alike (Seams, Mirror x), then try again.',
    );
  }
  const uvs = cornerUvs(mesh);
  for (const { first, second, corners } of twins) {
    // One texel can't lie on two sheets.
    if (sheetOfFace(mesh, first[0]!) !== sheetOfFace(mesh, second[0]!)) continue;
    second.forEach((f, i) => {
      for (let k = 0; k < 3; k++) {
        const from = corners[i * 3 + k]! * 2;
        uvs.set(uvs.subarray(from, from + 2), (f * 3 + k) * 2);
      }
    });
  }
  return withCornerUvs(mesh, uvs);
}
