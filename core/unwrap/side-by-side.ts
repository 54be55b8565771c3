import type { Mesh, SymmetryPlane, Topology } from '../mesh';
import { twinVertices } from '../mesh';
import type { CutChart } from './chart';
import { boxOf, type FlatIsland } from './outline';
import { areaOf, packIslands, type Packed, type PackOptions } from './pack-islands';

/** Pairs of pieces that are one another's mirror image over a plane: their numbers, the one on the left of the picture first. */
export function mirroredPairs(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  charts: readonly Pick<CutChart, 'faces'>[],
  plane: SymmetryPlane,
): (readonly [number, number])[] {
  const { ofVertex } = twinVertices(mesh, topology, plane.point, plane.normal);
  const names = charts.map(({ faces }) => verticesOf(mesh, topology, faces));
  const key = (list: readonly number[]): string => [...list].sort((a, b) => a - b).join(' ');
  const byName = new Map(names.map((list, i) => [key(list), i]));
  const out: (readonly [number, number])[] = [];
  const taken = new Set<number>();
  names.forEach((list, i) => {
    const other = byName.get(key(list.map((v) => ofVertex[v]!)));
    if (other === undefined || other === i || taken.has(i) || taken.has(other)) return;
    taken.add(i).add(other);
    const x = (vertices: readonly number[]): number =>
      vertices.reduce((sum, v) => sum + mesh.positions[v * 3]!, 0) / vertices.length;
    // Seen from the front, what has the lesser x lies on the left.
    out.push(x(list) <= x(names[other]!) ? [i, other] : [other, i]);
  });
  return out;
}

const verticesOf = (mesh: Pick<Mesh, 'indices'>, { welded }: Topology, faces: Uint32Array): number[] => [
  ...new Set(Array.from(faces).flatMap((f) => [0, 1, 2].map((k) => welded[mesh.indices[f * 3 + k]!]!))),
];

/** Sheets that are packed until the gap in a pair is as wide as the margin. */
const TRIES = 4;

/** A gap is taken a little wider than it must be, for the scale is known only afterwards. */
const SPARE = 1.02;

/** Packs islands; those of a pair lie beside one another. */
export function packSideBySide(
  islands: readonly FlatIsland[],
  pairs: readonly (readonly [number, number])[],
  options: PackOptions,
): Packed {
  if (pairs.length === 0) return packIslands(islands, options);
  const second = new Map(pairs.map(([a, b]) => [a, b]));
  const seconds = new Set(second.values());
  const firsts = islands.map((_, i) => i).filter((i) => !seconds.has(i));
  const pick = <T>(list: readonly T[] | undefined): readonly T[] | undefined =>
    list && firsts.map((i) => list[i]!);
  const [weights, groups] = [pick(options.weights), pick(options.groups)];
  const area = islands.reduce((sum, one) => sum + areaOf(one.points, one.indices), 0);
  let scale = Math.sqrt(0.5 / (area || 1));
  for (let n = 1; ; n++) {
    const gapAt = (i: number): number =>
      (SPARE * options.margin) / options.size / scale / (options.weights?.[i] ?? 1);
    const packed = packIslands(
      firsts.map((i) =>
        second.has(i) ? besideOneAnother(islands[i]!, islands[second.get(i)!]!, gapAt(i)) : islands[i]!,
      ),
      { ...options, ...(weights ? { weights } : {}), ...(groups ? { groups } : {}) },
    );
    const isWide = packed.scale >= scale * (2 - SPARE);
    scale = Math.min(scale, packed.scale) * (isWide ? 1 : 0.99);
    if (!isWide && n < TRIES) continue;
    const uvs = new Array<Float64Array>(islands.length);
    firsts.forEach((i, k) => {
      const points = packed.uvs[k]!;
      const length = islands[i]!.points.length;
      uvs[i] = points.slice(0, length);
      const other = second.get(i);
      if (other !== undefined) uvs[other] = points.slice(length);
    });
    return { ...packed, uvs };
  }
}

/** Two islands as one, the second to the right of the first. @param gap between them, units of the surface */
export function besideOneAnother(a: FlatIsland, b: FlatIsland, gap: number): FlatIsland {
  const [left, right] = [boxOf(a.points), boxOf(b.points)];
  const points = new Float64Array(a.points.length + b.points.length);
  points.set(a.points);
  for (let i = 0; i < b.points.length; i += 2) {
    points[a.points.length + i] = b.points[i]! - right.left + left.right + gap;
    points[a.points.length + i + 1] = b.points[i + 1]! - right.low + left.low;
  }
  const first = a.points.length / 2;
  const indices = new Uint32Array(a.indices.length + b.indices.length);
  indices.set(a.indices);
  indices.set(
    b.indices.map((v) => v + first),
    a.indices.length,
  );
  return { points, indices };
}
