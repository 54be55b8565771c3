import { boundsOf, diagonalOf, sheetOfFace, topologyOf, type Topology, type UvMesh } from '../mesh';
import { singularValues } from './flatten/measures';
import { doubledArea, restShapes, shapeArea } from './flatten/rest-shape';

export const FINDINGS = [
  'overlapping',
  'flipped',
  'outside',
  'no-area',
  'stretched',
  'open',
  'non-manifold',
  'doubled',
  'winding',
] as const;
export type FindingKind = (typeof FINDINGS)[number];

/** Something that is wrong with a model or its layout, and where. */
export interface Finding {
  readonly kind: FindingKind;
  /** Triangles, edges or vertices, whichever the kind counts. */
  readonly count: number;
  /** Triangles to show. */
  readonly faces: Uint32Array;
}

/** A triangle counts as stretched if one direction is this much longer or shorter than the other, or its density is so far off. */
const STRETCH_LIMIT = 3;

/** Vertices nearer than this, in parts of the diagonal, are meant to be one. */
export const DOUBLE_REACH = 1e-5;

/** UVs are 32-bit floats: an error of 1e-6 is a few units in the last place at 1. */
const EPSILON = 1e-6;

/**
 * Everything that is wrong, in the order of FINDINGS; nothing where all is well.
 *
 * @param sizes texels a side of each sheet, at which overlaps are looked for
 */
export function modelHealth(
  mesh: UvMesh,
  sizes: readonly number[],
  topology: Topology = topologyOf(mesh),
): Finding[] {
  const shapes = restShapes(mesh);
  const { indices, uvs, positions } = mesh;
  const faces = indices.length / 3;
  const found = new Map<FindingKind, Set<number>>(FINDINGS.map((kind) => [kind, new Set()]));
  const counts = new Map<FindingKind, number>();
  const add = (kind: FindingKind, face: number): void => void found.get(kind)!.add(face);
  const diagonal = diagonalOf(boundsOf(positions));
  const solid = new Float64Array(sizes.length);
  const flat = new Float64Array(sizes.length);
  for (let f = 0; f < faces; f++) {
    const sheet = sheetOfFace(mesh, f);
    solid[sheet]! += shapeArea(shapes, f);
    flat[sheet]! += Math.abs(doubledArea(indices, uvs, f)) / 2;
  }
  const densities = flat.map((area, s) => Math.sqrt(area / (solid[s]! || 1)) || 1);
  for (let f = 0; f < faces; f++) {
    const area = doubledArea(indices, uvs, f) / 2;
    const isPoint = trueArea(mesh, f) <= 1e-14 * diagonal * diagonal;
    if (isPoint) add('no-area', f);
    if (area < 0) add('flipped', f);
    for (let k = 0; k < 3; k++) {
      const v = indices[f * 3 + k]! * 2;
      if ([uvs[v]!, uvs[v + 1]!].some((x) => x < -EPSILON || x > 1 + EPSILON)) add('outside', f);
    }
    const [big, second] = singularValues(indices, shapes, uvs, f);
    const small = Math.abs(second);
    const density = densities[sheetOfFace(mesh, f)]!;
    const off = Math.max(big / density, density / (small || 1e-30));
    if (!isPoint && (big / (small || 1e-30) > STRETCH_LIMIT || off > STRETCH_LIMIT * 1.5))
      add('stretched', f);
  }
  const { edges, across, twisted } = topology;
  const odd = { open: new Set<number>(), 'non-manifold': new Set<number>(), winding: new Set<number>() };
  edges.ofCorner.forEach((e, c) => {
    if (edges.ends[e * 2] === edges.ends[e * 2 + 1]) return;
    const kind =
      edges.uses[e] === 1
        ? 'open'
        : edges.uses[e]! > 2
          ? 'non-manifold'
          : twisted[e] && across[c]! >= 0
            ? 'winding'
            : null;
    if (!kind) return;
    odd[kind].add(e);
    add(kind, Math.floor(c / 3));
  });
  for (const kind of ['open', 'non-manifold', 'winding'] as const) counts.set(kind, odd[kind].size);
  const doubles = doubledVertices(mesh, topology, diagonal * DOUBLE_REACH);
  counts.set('doubled', doubles.size);
  if (doubles.size) {
    indices.forEach((v, c) => {
      if (doubles.has(topology.welded[v]!)) add('doubled', Math.floor(c / 3));
    });
  }
  sizes.forEach((size, sheet) => {
    for (const f of overlappingFaces(mesh, sheet, size)) add('overlapping', f);
  });
  return FINDINGS.flatMap((kind) => {
    const list = found.get(kind)!;
    const count = counts.get(kind) ?? list.size;
    return count > 0 ? [{ kind, count, faces: Uint32Array.from([...list].sort((a, b) => a - b)) }] : [];
  });
}

function trueArea({ positions: p, indices }: UvMesh, f: number): number {
  const a = indices[f * 3]! * 3;
  const b = indices[f * 3 + 1]! * 3;
  const c = indices[f * 3 + 2]! * 3;
  const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
  const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}

/** Welded vertices that have another one within reach without being at the same place. */
export function doubledVertices(mesh: UvMesh, { welded }: Topology, reach: number): Map<number, number> {
  const p = mesh.positions;
  const cells = new Map<string, number[]>();
  const cell = reach * 2 || 1;
  const out = new Map<number, number>();
  for (const v of new Set(welded)) {
    const at = [0, 1, 2].map((k) => Math.floor(p[v * 3 + k]! / cell)) as [number, number, number];
    let twin = -1;
    for (let n = 0; n < 27 && twin < 0; n++) {
      const key = `${at[0] + (n % 3) - 1} ${at[1] + (Math.floor(n / 3) % 3) - 1} ${at[2] + Math.floor(n / 9) - 1}`;
      for (const w of cells.get(key) ?? []) {
        if (
          Math.hypot(p[v * 3]! - p[w * 3]!, p[v * 3 + 1]! - p[w * 3 + 1]!, p[v * 3 + 2]! - p[w * 3 + 2]!) <=
          reach
        ) {
          twin = w;
          break;
        }
      }
    }
    if (twin >= 0) {
      out.set(v, twin);
      continue;
    }
    const key = at.join(' ');
    const list = cells.get(key);
    if (list) list.push(v);
    else cells.set(key, [v]);
  }
  return out;
}

/** Triangles of a sheet that share texels' centres with others, by filling them one after the other. */
function overlappingFaces(mesh: UvMesh, sheet: number, size: number): Set<number> {
  const { indices, uvs } = mesh;
  const owner = new Int32Array(size * size).fill(-1);
  const out = new Set<number>();
  for (let f = 0; f < indices.length / 3; f++) {
    if (sheetOfFace(mesh, f) !== sheet) continue;
    const [x0, y0, x1, y1, x2, y2] = [0, 1, 2].flatMap((k) => {
      const v = indices[f * 3 + k]! * 2;
      return [uvs[v]! * size, uvs[v + 1]! * size];
    }) as [number, number, number, number, number, number];
    const doubled = (x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0);
    const wide = Math.max(x0, x1, x2) - Math.min(x0, x1, x2);
    const high = Math.max(y0, y1, y2) - Math.min(y0, y1, y2);
    if (doubled === 0 || wide > size * 4 || high > size * 4) continue;
    // A hair inside its edges, so that neighbours never share a texel.
    const margin = 1e-7;
    for (let y = Math.ceil(Math.min(y0, y1, y2) - 0.5); y <= Math.max(y0, y1, y2) - 0.5; y++) {
      for (let x = Math.ceil(Math.min(x0, x1, x2) - 0.5); x <= Math.max(x0, x1, x2) - 0.5; x++) {
        const [cx, cy] = [x + 0.5, y + 0.5];
        const w0 = ((x1 - cx) * (y2 - cy) - (y1 - cy) * (x2 - cx)) / doubled;
        const w1 = ((x2 - cx) * (y0 - cy) - (y2 - cy) * (x0 - cx)) / doubled;
        if (w0 <= margin || w1 <= margin || w0 + w1 >= 1 - margin) continue;
        const i = (((y % size) + size) % size) * size + (((x % size) + size) % size);
        if (owner[i]! >= 0) {
          out.add(f);
          out.add(owner[i]!);
        } else owner[i] = f;
      }
    }
  }
  return out;
}
