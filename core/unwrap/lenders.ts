import { dot, sub, type Vec3 } from '../math';
import {
  boundsOf,
  diagonalOf,
  centreOf,
  faceMask,
  groupByEdge,
  mainSymmetry,
  symmetryPlanes,
  topologyOf,
  type FaceRuns,
  type Mesh,
  type Topology,
} from '../mesh';
import { mirrorImages } from './mirror-images';

/** Places this near, in parts of the diagonal, are the same: hand-made models are even to about a thousandth of it. */
const REACH = 2e-4;

/**
 * Which triangles can show the texels of others: mirrored halves, and pieces of the same form.
 *
 * @param apart triangles that are to have texels of their own
 * @param weights of parts; what is to have another size on the sheet has texels of its own
 * @returns for each corner the one whose place on the sheet it can take; itself where it needs its own
 */
export function lendersOf(
  mesh: Mesh,
  apart: FaceRuns,
  weights: ReadonlyMap<string, number> = new Map(),
): Uint32Array {
  const lending: Lending = {
    mesh,
    topology: topologyOf(mesh),
    own: faceMask(mesh.faceParts.length, apart),
    weightOf: (f) => weights.get(mesh.parts[mesh.faceParts[f]!]!) ?? 1,
    reach: REACH * diagonalOf(boundsOf(mesh.positions)),
    lenders: Uint32Array.from(mesh.indices, (_, c) => c),
  };
  lendEqualShells(lending);
  lendMirrored(lending);
  return lending.lenders;
}

interface Lending {
  readonly mesh: Mesh;
  readonly topology: Topology;
  readonly own: Uint8Array;
  readonly weightOf: (face: number) => number;
  readonly reach: number;
  readonly lenders: Uint32Array;
}

const isLent = (lenders: Uint32Array, face: number): boolean => lenders[face * 3] !== face * 3;

/** Of shells that are moved or turned copies of one another the first lends to the others. */
function lendEqualShells({ mesh, topology, own, weightOf, reach, lenders }: Lending): void {
  const { positions: p, indices, faceParts } = mesh;
  const { welded } = topology;
  const shells = groupByEdge(topology.edges, faceParts.length);
  const lists: number[][] = Array.from({ length: shells.count }, () => []);
  shells.ofFace.forEach((shell, f) => lists[shell]!.push(f));
  const firsts = new Map<string, number[][]>();
  for (const list of lists) {
    if (list.length === 0 || list.some((f) => own[f])) continue;
    const form = `${weightOf(list[0]!)}: ${formOf(mesh, welded, list)}`;
    const known = firsts.get(form) ?? [];
    firsts.set(form, known);
    const first = known.find((other) => haveSameForm(other, list));
    if (!first) {
      known.push(list);
      continue;
    }
    list.forEach((f, i) => {
      for (let k = 0; k < 3; k++) lenders[f * 3 + k] = first[i]! * 3 + k;
    });
  }

  /** Whether lengths between corresponding corners agree: along edges, and to three corners of the whole. */
  function haveSameForm(a: readonly number[], b: readonly number[]): boolean {
    const at = (c: number): Vec3 => [0, 1, 2].map((k) => p[indices[c]! * 3 + k]!) as unknown as Vec3;
    const far = (c: number, d: number): number => Math.hypot(...sub(at(c), at(d)));
    const marks = [0, Math.floor(a.length / 3), Math.floor((2 * a.length) / 3)];
    return a.every((f, i) =>
      [0, 1, 2].every((k) => {
        const [c, d] = [f * 3 + k, b[i]! * 3 + k];
        return (
          Math.abs(far(c, f * 3 + ((k + 1) % 3)) - far(d, b[i]! * 3 + ((k + 1) % 3))) < reach &&
          marks.every((m, n) => Math.abs(far(c, a[m]! * 3 + n) - far(d, b[m]! * 3 + n)) < reach)
        );
      }),
    );
  }
}

/** What shells of one form have in common: how their triangles hang together, in their order. */
function formOf({ indices }: Mesh, welded: Uint32Array, list: readonly number[]): string {
  const names = new Map<number, number>();
  const name = (v: number): number => names.get(v) ?? names.set(v, names.size).get(v)!;
  return list.flatMap((f) => [0, 1, 2].map((k) => name(welded[indices[f * 3 + k]!]!))).join(' ');
}

/** Triangles on the one side of a plane lend to their mirror images, also where a quad is cut along its other diagonal. */
function lendMirrored({ mesh, topology: { welded }, own, weightOf, reach, lenders }: Lending): void {
  const { positions, indices, faceParts } = mesh;
  const fitted = mainSymmetry(symmetryPlanes(mesh));
  const across: Vec3 = [1, 0, 0];
  const planes = [
    { point: [0, 0, 0] as Vec3, normal: across },
    { point: centreOf(boundsOf(positions)), normal: across },
    ...(fitted ? [fitted] : []),
  ];
  // A plane that is meant pairs more than one that was fitted, if it is one.
  const [{ plane, image }] = planes
    .map((plane) => ({ plane, image: mirrorImages(positions, welded, plane, reach) }))
    .sort((a, b) => b.image.size - a.image.size) as [
    { plane: (typeof planes)[0]; image: Map<number, number> },
  ];
  const at = (v: number): Vec3 => [positions[v * 3]!, positions[v * 3 + 1]!, positions[v * 3 + 2]!];
  const vertex = (c: number): number => welded[indices[c]!]!;
  const height = (f: number): number =>
    [0, 1, 2].reduce((sum, k) => sum + dot(sub(at(vertex(f * 3 + k)), plane.point), plane.normal), 0) / 3;
  const key = (...vertices: readonly number[]): string => [...vertices].sort((a, b) => a - b).join(' ');
  const lends = (f: number): boolean => !own[f] && !isLent(lenders, f) && height(f) > reach;
  // What lends already stays where it is.
  const borrowed = new Set(lenders.filter((c, i) => c !== i).map((c) => Math.floor(c / 3)));
  const byTriangle = new Map<string, number>();
  const byQuad = new Map<string, readonly [number, number]>();
  const sideBySide = quadsOf(vertex, faceParts.length);
  for (let f = 0; f < faceParts.length; f++) {
    if (lends(f)) byTriangle.set(key(vertex(f * 3), vertex(f * 3 + 1), vertex(f * 3 + 2)), f);
  }
  for (const [quad, [f, g]] of sideBySide) if (lends(f) && lends(g)) byQuad.set(quad, [f, g]);
  const takes = (f: number): boolean =>
    !own[f] && !isLent(lenders, f) && !borrowed.has(f) && height(f) < -reach;
  /** Takes the corners of some triangles with the images of these vertices. */
  const take = (f: number, from: readonly number[]): boolean => {
    const found = [0, 1, 2].map((k) => {
      const v = image.get(vertex(f * 3 + k)) ?? -1;
      return from.flatMap((g) => [g * 3, g * 3 + 1, g * 3 + 2]).find((c) => vertex(c) === v) ?? -1;
    });
    if (found.some((c) => c < 0) || weightOf(f) !== weightOf(from[0]!)) return false;
    found.forEach((c, k) => (lenders[f * 3 + k] = c));
    return true;
  };
  const imagesOf = (f: number): number[] => [0, 1, 2].map((k) => image.get(vertex(f * 3 + k)) ?? -1);
  for (let f = 0; f < faceParts.length; f++) {
    if (!takes(f)) continue;
    const twin = byTriangle.get(key(...imagesOf(f)));
    if (twin !== undefined) take(f, [twin]);
  }
  for (const [, [f, g]] of sideBySide) {
    if (!takes(f) || !takes(g)) continue;
    const twins = byQuad.get(key(...new Set([...imagesOf(f), ...imagesOf(g)])));
    if (twins && take(f, twins)) take(g, twins);
  }
}

/** Two triangles at each inner edge, by the four vertices that they have. */
function quadsOf(vertex: (c: number) => number, faces: number): Map<string, readonly [number, number]> {
  const atEdge = new Map<string, number>();
  const out = new Map<string, readonly [number, number]>();
  for (let f = 0; f < faces; f++) {
    for (let k = 0; k < 3; k++) {
      const ends = [vertex(f * 3 + k), vertex(f * 3 + ((k + 1) % 3))].sort((a, b) => a - b).join(' ');
      const other = atEdge.get(ends);
      if (other === undefined) {
        atEdge.set(ends, f);
        continue;
      }
      const four = new Set([f, other].flatMap((g) => [0, 1, 2].map((c) => vertex(g * 3 + c))));
      if (four.size === 4) out.set([...four].sort((a, b) => a - b).join(' '), [other, f]);
    }
  }
  return out;
}
