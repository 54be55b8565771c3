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
  const seen = new Map<number, number>();
  const ends: number[] = [];
  const uses: number[] = [];
  const ofCorner = new Uint32Array(indices.length);
  // Two 26-bit numbers fit a double exactly: enough for 67 million vertices.
  const SHIFT = 2 ** 26;
  for (let c = 0; c < indices.length; c++) {
    const a = welded[indices[c]!]!;
    const b = welded[indices[c % 3 === 2 ? c - 2 : c + 1]!]!;
    const low = Math.min(a, b);
    const high = Math.max(a, b);
    const key = low * SHIFT + high;
    let edge = seen.get(key);
    if (edge === undefined) {
      edge = uses.length;
      seen.set(key, edge);
      ends.push(low, high);
      uses.push(0);
    }
    uses[edge]!++;
    ofCorner[c] = edge;
  }
  return { ends: Uint32Array.from(ends), uses: Uint32Array.from(uses), ofCorner };
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
