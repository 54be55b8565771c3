import {
  edgeAngles,
  edgeLengths,
  faceGeometry,
  nextCorner,
  previousCorner,
  type Mesh,
  type Topology,
  type UvMesh,
} from '../mesh';
import { edgeFans } from './edge-path';

/**
 * What it costs to lead a seam along each edge: its length, less in valleys and along creases, and less where the surface looks
 * down, which is seldom seen. Model y is up.
 */
export function seamCosts(mesh: Pick<Mesh, 'positions' | 'indices'>, topology: Topology): Float64Array {
  const { normals } = faceGeometry(mesh);
  const angles = edgeAngles(mesh, topology, normals);
  const up = new Float64Array(angles.length);
  topology.edges.ofCorner.forEach((e, c) => (up[e]! += normals[Math.floor(c / 3) * 3 + 1]! / 2));
  return edgeLengths(topology, mesh.positions).map((l, e) => {
    const turn = Math.min(1, Math.abs(angles[e]!) / (Math.PI / 2));
    const crease = angles[e]! < 0 ? 0.75 * turn : 0.5 * turn;
    return l * (1 - crease) * (1 + 0.35 * Math.max(-1, Math.min(1, up[e]!)));
  });
}

/** Polygon numbers: the file's own, or pairs of flat-lying neighbours that were one quad before they were cut in two. */
export function polygonsOf(mesh: Mesh, { across }: Topology): Uint32Array {
  if (mesh.polygons) return mesh.polygons;
  const { normals } = faceGeometry(mesh);
  const out = Uint32Array.from({ length: mesh.faceParts.length }, (_, f) => f);
  // Quads are written as two triangles one after the other.
  for (let f = 0; f + 1 < out.length; f++) {
    if (out[f] !== f) continue;
    const isNext = [0, 1, 2].some(
      (k) => Math.floor(across[f * 3 + k]! / 3) === f + 1 && across[f * 3 + k]! >= 0,
    );
    const cos = [0, 1, 2].reduce((sum, k) => sum + normals[f * 3 + k]! * normals[f * 3 + 3 + k]!, 0);
    if (isNext && cos > 0.94) {
      out[f + 1] = f;
      f++;
    }
  }
  return out;
}

/**
 * The loop that an edge belongs to: on quads it goes straight on over every vertex where four edges meet.
 *
 * @returns the edges, the given one among them; empty if it lies inside a polygon
 */
export function edgeLoop(mesh: Mesh, topology: Topology, edge: number): number[] {
  const { edges, across } = topology;
  const polygons = polygonsOf(mesh, topology);
  const sides: number[][] = Array.from({ length: edges.uses.length }, () => []);
  edges.ofCorner.forEach((e, c) => sides[e]!.push(polygons[Math.floor(c / 3)]!));
  const isReal = (e: number): boolean => sides[e]!.length !== 2 || sides[e]![0] !== sides[e]![1];
  if (!isReal(edge) || across.length === 0) return [];
  const fans = edgeFans(topology);
  const found = new Set([edge]);
  for (const end of [0, 1]) {
    let e = edge;
    let v = edges.ends[e * 2 + end]!;
    for (;;) {
      const around: number[] = [];
      for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++)
        if (isReal(fans.edge[i]!)) around.push(fans.edge[i]!);
      if (around.length !== 4) break;
      const next = around.find((o) => o !== e && !sides[o]!.some((p) => sides[e]!.includes(p)));
      if (next === undefined || found.has(next)) break;
      found.add(next);
      v = edges.ends[next * 2] === v ? edges.ends[next * 2 + 1]! : edges.ends[next * 2]!;
      e = next;
    }
  }
  return [...found];
}

/** The same edges on the other side of the plane x = 0; those that have no twin within a thousandth of the model are left out. */
export function mirroredEdges(
  mesh: Pick<Mesh, 'positions'>,
  { edges }: Topology,
  chosen: readonly number[],
): number[] {
  const p = mesh.positions;
  let extent = 0;
  for (const x of p) extent = Math.max(extent, Math.abs(x));
  const cell = extent / 500 || 1;
  const key = (x: number, y: number, z: number): string =>
    `${Math.round(x / cell)} ${Math.round(y / cell)} ${Math.round(z / cell)}`;
  const byPlace = new Map<string, number[]>();
  for (const v of new Set(edges.ends)) {
    const k = key(p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!);
    const list = byPlace.get(k);
    if (list) list.push(v);
    else byPlace.set(k, [v]);
  }
  const twin = (v: number): number => {
    const [x, y, z] = [-p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
    let best = -1;
    let nearest = cell;
    for (let n = 0; n < 27; n++) {
      const list = byPlace.get(
        key(
          x + ((n % 3) - 1) * cell,
          y + ((Math.floor(n / 3) % 3) - 1) * cell,
          z + (Math.floor(n / 9) - 1) * cell,
        ),
      );
      for (const w of list ?? []) {
        const d = Math.hypot(p[w * 3]! - x, p[w * 3 + 1]! - y, p[w * 3 + 2]! - z);
        if (d < nearest) {
          nearest = d;
          best = w;
        }
      }
    }
    return best;
  };
  const edgeOf = new Map<string, number>();
  for (let e = 0; e < edges.uses.length; e++) edgeOf.set(`${edges.ends[e * 2]} ${edges.ends[e * 2 + 1]}`, e);
  return chosen.flatMap((e) => {
    const a = twin(edges.ends[e * 2]!);
    const b = twin(edges.ends[e * 2 + 1]!);
    const found = edgeOf.get(`${Math.min(a, b)} ${Math.max(a, b)}`);
    return found === undefined ? [] : [found];
  });
}

/**
 * Straightens quads: every island among the triangles whose quads form a grid becomes an exact rectangle, its rows and columns as
 * wide as their edges are long on the model.
 *
 * @returns the corner uvs of those that could be straightened, in units of the surface; null if none could
 */
export function straightened(
  mesh: UvMesh,
  topology: Topology,
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
    const pending = [{ corners: first, i: 0, j: 0 }];
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
        const next = acrossSide(mesh, topology, a, b, polygons);
        if (!next || !inside.has(Math.floor(next[0] / 3))) continue;
        const quad = quadOf(Math.floor(next[0] / 3));
        if (!quad) return null;
        // Turned so that the shared side is opposite: its side (side + 2) runs from b's place to a's.
        const at = quad.findIndex((c) => topology.welded[indices[c]!] === topology.welded[indices[b]!]);
        if (at < 0) return null;
        const turned = [0, 1, 2, 3].map((k) => quad[(at + k - ((side + 2) % 4) + 8) % 4]!);
        const [di, dj] = steps[side]!;
        pending.push({ corners: turned as unknown as typeof first, i: i + di, j: j + dj });
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
  { across, welded }: Topology,
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
      if (o < 0 || polygons[Math.floor(o / 3)] === polygons[f]) return null;
      return [o, nextCorner(o)];
    }
  }
  return null;
}
