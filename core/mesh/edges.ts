/** How the triangles meet, over welded vertices. */
export interface EdgeTable {
  /** Two welded vertices an edge, lower number first. */
  readonly ends: Uint32Array;
  /** How many triangles use the edge. */
  readonly uses: Uint32Array;
  /** One number an edge for each corner k of a triangle: the edge from corner k to corner k+1. */
  readonly ofCorner: Uint32Array;
}

/**
 * @param indices three vertices a triangle
 * @param welded for every vertex its welded number
 */
export function edgeTable(indices: Uint32Array, welded: Uint32Array): EdgeTable {
  const corners = indices.length;
  const around = new Uint32Array(welded.length);
  for (let c = 0; c < corners; c++) around[welded[indices[c]!]!]!++;
  // A list of edges at each vertex, kept at that end which has fewer corners: the tip of a fan has very many.
  const first = new Int32Array(welded.length).fill(-1);
  const next = new Int32Array(corners);
  const far = new Uint32Array(corners);
  const ends = new Uint32Array(corners * 2);
  const uses = new Uint32Array(corners);
  const ofCorner = new Uint32Array(corners);
  let count = 0;
  for (let c = 0; c < corners; c++) {
    const a = welded[indices[c]!]!;
    const b = welded[indices[c % 3 === 2 ? c - 2 : c + 1]!]!;
    const low = Math.min(a, b);
    const high = Math.max(a, b);
    const home = around[high]! < around[low]! ? high : low;
    const other = home === low ? high : low;
    let edge = first[home]!;
    while (edge >= 0 && far[edge] !== other) edge = next[edge]!;
    if (edge < 0) {
      edge = count++;
      next[edge] = first[home]!;
      first[home] = edge;
      far[edge] = other;
      ends[edge * 2] = low;
      ends[edge * 2 + 1] = high;
    }
    uses[edge]!++;
    ofCorner[c] = edge;
  }
  return { ends: ends.slice(0, count * 2), uses: uses.slice(0, count), ofCorner };
}

/** Edges with one triangle, and edges with more than two; edges between equal vertices don't count. */
export function countOddEdges(table: EdgeTable): { open: number; nonManifold: number } {
  let open = 0;
  let nonManifold = 0;
  for (let e = 0; e < table.uses.length; e++) {
    if (table.ends[e * 2] === table.ends[e * 2 + 1]) continue;
    if (table.uses[e] === 1) open++;
    else if (table.uses[e]! > 2) nonManifold++;
  }
  return { open, nonManifold };
}
