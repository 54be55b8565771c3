import { CoreError } from '../errors';
import { findIslands, nextCorner, previousCorner, topologyOf, type Topology, type UvMesh } from '../mesh';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { layoutSeams } from './layout-measures';
import { doubledArea, restShapes, shapeArea } from './rest-shape';
import { polygonsOf } from './seam-edges';

/**
 * Straightens quads: every island among the triangles whose quads form a grid becomes an exact rectangle, its rows and columns as
 * wide as their edges are long on the model. It keeps its size and its middle, and is turned no more than it must.
 *
 * @throws CoreError `unwrap-no-grid` if none of the islands is a grid of quads
 */
export function straightenFaces(mesh: UvMesh, faces: readonly number[]): UvMesh {
  const topology = topologyOf(mesh);
  const seams = layoutSeams(mesh, topology);
  const { ofFace } = findIslands(mesh);
  const shapes = restShapes(mesh);
  const uvs = cornerUvs(mesh);
  const islands = new Map<number, number[]>();
  for (const f of faces) {
    const list = islands.get(ofFace[f]!);
    if (list) list.push(f);
    else islands.set(ofFace[f]!, [f]);
  }
  let done = 0;
  for (const list of islands.values()) {
    const straight = straightened(mesh, topology, seams, list);
    if (!straight) continue;
    done++;
    let solid = 0;
    let flat = 0;
    for (const f of list) {
      solid += shapeArea(shapes, f);
      flat += Math.abs(doubledArea(mesh.indices, mesh.uvs, f)) / 2;
    }
    layOver(straight, uvs, Math.sqrt((flat || 1) / (solid || 1)));
  }
  if (done === 0) {
    throw new CoreError(
      'unwrap-no-grid',
      'Nothing there is a strip or a grid of quads, so it can’t be made straight. Choose an island whose quads lie in rows.',
    );
  }
  return withCornerUvs(mesh, uvs);
}

/** Puts a rectangle where its corners were, in that of its four turns which is nearest. @param uvs uv a corner; changed */
function layOver(
  straight: ReadonlyMap<number, readonly [number, number]>,
  uvs: Float32Array,
  scale: number,
): void {
  const n = straight.size;
  let [x, y, u, v] = [0, 0, 0, 0];
  for (const [c, place] of straight) {
    x += place[0] / n;
    y += place[1] / n;
    u += uvs[c * 2]! / n;
    v += uvs[c * 2 + 1]! / n;
  }
  let [re, im] = [0, 0];
  for (const [c, place] of straight) {
    const [dx, dy] = [place[0] - x, place[1] - y];
    const [du, dv] = [uvs[c * 2]! - u, uvs[c * 2 + 1]! - v];
    re += dx * du + dy * dv;
    im += dx * dv - dy * du;
  }
  const quarters = Math.round(Math.atan2(im, re) / (Math.PI / 2));
  // Exact: a rectangle stays one.
  const cos = [1, 0, -1, 0][(quarters + 4) % 4]!;
  const sin = [0, 1, 0, -1][(quarters + 4) % 4]!;
  for (const [c, place] of straight) {
    const [dx, dy] = [(place[0] - x) * scale, (place[1] - y) * scale];
    uvs[c * 2] = u + dx * cos - dy * sin;
    uvs[c * 2 + 1] = v + dx * sin + dy * cos;
  }
}

/**
 * @param seams 1 for each edge along which the layout is cut
 * @param faces of one island
 * @returns the corner uvs of a rectangle, in units of the surface; null if the island is no grid of quads
 */
function straightened(
  mesh: UvMesh,
  topology: Topology,
  seams: Uint8Array,
  faces: readonly number[],
): Map<number, readonly [number, number]> | null {
  const polygons = polygonsOf(mesh, topology);
  const inside = new Set(faces);
  const out = new Map<number, readonly [number, number]>();
  const placed = new Set<number>();
  const { indices, positions } = mesh;
  const length = (a: number, b: number): number => {
    const [i, j] = [indices[a]! * 3, indices[b]! * 3];
    return Math.hypot(
      positions[i]! - positions[j]!,
      positions[i + 1]! - positions[j + 1]!,
      positions[i + 2]! - positions[j + 2]!,
    );
  };
  /** The four outer corners of a quad in order, or null. */
  const quadOf = (f: number): readonly [number, number, number, number] | null => {
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const o = topology.across[c]!;
      if (o < 0 || polygons[Math.floor(o / 3)] !== polygons[f]) continue;
      // The diagonal runs from c to the next corner; the quad is its ends and the two tips.
      return [nextCorner(c), previousCorner(c), c, previousCorner(o)];
    }
    return null;
  };
  const columns = new Map<string, number[]>();
  const grid = new Map<number, { i: number; j: number; corners: readonly number[] }>();
  for (const seed of faces) {
    if (placed.has(seed)) continue;
    const first = quadOf(seed);
    if (!first) return null;
    const pending: { corners: readonly number[]; i: number; j: number }[] = [{ corners: first, i: 0, j: 0 }];
    while (pending.length) {
      const { corners, i, j } = pending.pop()!;
      const f = Math.floor(corners[0]! / 3);
      const known = grid.get(polygons[f]!);
      if (known) {
        if (known.i !== i || known.j !== j) return null;
        continue;
      }
      grid.set(polygons[f]!, { i, j, corners });
      for (const c of corners) placed.add(Math.floor(c / 3));
      // Sides: 0 from corner 0 to 1 (low j), 1 (high i), 2 (high j), 3 (low i).
      const steps = [
        [0, -1],
        [1, 0],
        [0, 1],
        [-1, 0],
      ] as const;
      for (let side = 0; side < 4; side++) {
        const [a, b] = [corners[side]!, corners[(side + 1) % 4]!];
        const next = acrossSide(mesh, topology, seams, a, b, polygons);
        if (!next || !inside.has(Math.floor(next[0] / 3))) continue;
        const quad = quadOf(Math.floor(next[0] / 3));
        if (!quad) return null;
        // Turned so that the shared side is opposite: its side (side + 2) runs from b's place to a's.
        const at = quad.findIndex((c) => topology.welded[indices[c]!] === topology.welded[indices[b]!]);
        if (at < 0) return null;
        const turned = [0, 1, 2, 3].map((k) => quad[(at + k - ((side + 2) % 4) + 8) % 4]!);
        const [di, dj] = steps[side]!;
        pending.push({ corners: turned, i: i + di, j: j + dj });
      }
    }
  }
  for (const { i, j, corners } of grid.values()) {
    const width = (length(corners[0]!, corners[1]!) + length(corners[2]!, corners[3]!)) / 2;
    const height = (length(corners[1]!, corners[2]!) + length(corners[3]!, corners[0]!)) / 2;
    const push = (key: string, value: number): void => {
      const list = columns.get(key);
      if (list) list.push(value);
      else columns.set(key, [value]);
    };
    push(`i${i}`, width);
    push(`j${j}`, height);
  }
  const mean = (key: string): number => {
    const list = columns.get(key) ?? [0];
    return list.reduce((a, b) => a + b, 0) / list.length;
  };
  const cells = [...grid.values()];
  const range = (of: (g: { i: number; j: number }) => number): [number, number] => [
    Math.min(...cells.map(of)),
    Math.max(...cells.map(of)),
  ];
  const sums = (letter: string, [low, high]: [number, number]): number[] => {
    const list = [0];
    for (let k = low; k <= high; k++) list.push(list.at(-1)! + mean(`${letter}${k}`));
    return list;
  };
  const [ri, rj] = [range((g) => g.i), range((g) => g.j)];
  const us = sums('i', ri);
  const vs = sums('j', rj);
  for (const { i, j, corners } of cells) {
    const [u0, u1, v0, v1] = [us[i - ri[0]]!, us[i - ri[0] + 1]!, vs[j - rj[0]]!, vs[j - rj[0] + 1]!];
    const places = [
      [u0, v0],
      [u1, v0],
      [u1, v1],
      [u0, v1],
    ] as const;
    const polygon = polygons[Math.floor(corners[0]! / 3)]!;
    for (const f of new Set(corners.map((c) => Math.floor(c / 3)))) {
      if (polygons[f] !== polygon) continue;
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const k = corners.findIndex((q) => topology.welded[indices[q]!] === topology.welded[indices[c]!]);
        if (k >= 0) out.set(c, places[k]!);
      }
    }
  }
  return out.size === faces.length * 3 ? out : null;
}

/** The corners on the other side of a quad's side from a to b. */
function acrossSide(
  mesh: UvMesh,
  { across, welded, edges }: Topology,
  seams: Uint8Array,
  a: number,
  b: number,
  polygons: Uint32Array,
): readonly [number, number] | null {
  const [wa, wb] = [welded[mesh.indices[a]!]!, welded[mesh.indices[b]!]!];
  for (const start of [a, b]) {
    const f = Math.floor(start / 3);
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const v = welded[mesh.indices[c]!]!;
      const w = welded[mesh.indices[nextCorner(c)]!]!;
      if (v !== wa || w !== wb) continue;
      const o = across[c]!;
      if (o < 0 || seams[edges.ofCorner[c]!] || polygons[Math.floor(o / 3)] === polygons[f]) return null;
      return [o, nextCorner(o)];
    }
  }
  return null;
}
