import { nextCorner, previousCorner, type Topology, type UvMesh } from '../../mesh';

/** A quad in a grid: its column and row, and its outer corners in order, the first of lowest column and row. */
export interface Cell {
  readonly i: number;
  readonly j: number;
  readonly corners: readonly number[];
}

/** A surface as quads. */
export interface Quads {
  readonly mesh: UvMesh;
  readonly topology: Topology;
  /** 1 for each edge along which the layout is cut. */
  readonly seams: Uint8Array;
  /** For each triangle the polygon that it came from. */
  readonly polygons: Uint32Array;
}

/** What lies beyond a quad's sides, in columns and rows. Side k runs from corner k to the next: low j, high i, high j, low i. */
const BEYOND = [
  [0, -1],
  [1, 0],
  [0, 1],
  [-1, 0],
] as const;

/** Gives the quads of an island columns and rows. @param faces of one island @returns null if they form no grid */
export function gridOfQuads(quads: Quads, faces: readonly number[]): Cell[] | null {
  const { polygons } = quads;
  const inside = new Set(faces);
  const grid = new Map<number, Cell>();
  for (const seed of faces) {
    if (grid.has(polygons[seed]!)) continue;
    const corners = quadOf(quads, seed);
    if (!corners) return null;
    const pending: Cell[] = [{ corners, i: 0, j: 0 }];
    while (pending.length) {
      const cell = pending.pop()!;
      const polygon = polygons[Math.floor(cell.corners[0]! / 3)]!;
      const known = grid.get(polygon);
      if (known && (known.i !== cell.i || known.j !== cell.j)) return null;
      if (known) continue;
      grid.set(polygon, cell);
      const next = neighbours(quads, cell, inside);
      if (!next) return null;
      pending.push(...next);
    }
  }
  return [...grid.values()];
}

/** The cells on the other side of a cell's sides. @returns null if something that is no quad lies there */
function neighbours(quads: Quads, { i, j, corners }: Cell, inside: ReadonlySet<number>): Cell[] | null {
  const { welded } = quads.topology;
  const { indices } = quads.mesh;
  const out: Cell[] = [];
  for (let side = 0; side < 4; side++) {
    const [a, b] = [corners[side]!, corners[(side + 1) % 4]!];
    const beyond = acrossSide(quads, a, b);
    if (beyond === null || !inside.has(Math.floor(beyond / 3))) continue;
    const quad = quadOf(quads, Math.floor(beyond / 3));
    if (!quad) return null;
    // Turned so that the shared side is opposite: its side (side + 2) runs from b's place to a's.
    const at = quad.findIndex((c) => welded[indices[c]!] === welded[indices[b]!]);
    if (at < 0) return null;
    const turned = [0, 1, 2, 3].map((k) => quad[(at + k - ((side + 2) % 4) + 8) % 4]!);
    const [di, dj] = BEYOND[side]!;
    out.push({ corners: turned, i: i + di, j: j + dj });
  }
  return out;
}

/** The four outer corners of a triangle's quad in order; null if it isn't one. */
function quadOf({ topology, polygons }: Quads, f: number): readonly number[] | null {
  for (let c = f * 3; c < f * 3 + 3; c++) {
    const o = topology.across[c]!;
    if (o < 0 || polygons[Math.floor(o / 3)] !== polygons[f]) continue;
    // The diagonal runs from c to the next corner; the quad is its ends and the two tips.
    return [nextCorner(c), previousCorner(c), c, previousCorner(o)];
  }
  return null;
}

/** A corner on the other side of a quad's side from a to b; null if the surface or the layout ends there. */
function acrossSide({ mesh, topology, seams, polygons }: Quads, a: number, b: number): number | null {
  const { across, welded, edges } = topology;
  const [wa, wb] = [welded[mesh.indices[a]!]!, welded[mesh.indices[b]!]!];
  for (const start of [a, b]) {
    const f = Math.floor(start / 3);
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const v = welded[mesh.indices[c]!]!;
      const w = welded[mesh.indices[nextCorner(c)]!]!;
      if (v !== wa || w !== wb) continue;
      const o = across[c]!;
      const ends = o < 0 || seams[edges.ofCorner[c]!] || polygons[Math.floor(o / 3)] === polygons[f];
      return ends ? null : o;
    }
  }
  return null;
}
