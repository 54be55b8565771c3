import { nextCorner, previousCorner } from '../../mesh';

/**
 * For the edge of every corner, from its vertex to the next one's, the corner whose edge runs the other way; -1 along borders.
 *
 * @param indices three vertices a triangle
 * @param count of vertices
 */
export function oppositeCorners(indices: Uint32Array, count: number): Int32Array {
  // A list of the corners at each vertex.
  const first = new Int32Array(count).fill(-1);
  const next = new Int32Array(indices.length);
  const uses = new Int32Array(count);
  for (let c = indices.length - 1; c >= 0; c--) {
    const v = indices[c]!;
    next[c] = first[v]!;
    first[v] = c;
    uses[v]!++;
  }
  const out = new Int32Array(indices.length);
  for (let c = 0; c < indices.length; c++) {
    const a = indices[c]!;
    const b = indices[nextCorner(c)]!;
    let o: number;
    // The shorter list of the two: the tip of a fan has very many corners.
    if (uses[b]! <= uses[a]!) {
      o = first[b]!;
      while (o >= 0 && indices[nextCorner(o)] !== a) o = next[o]!;
    } else {
      let q = first[a]!;
      while (q >= 0 && indices[previousCorner(q)] !== b) q = next[q]!;
      o = q < 0 ? -1 : previousCorner(q);
    }
    out[c] = o;
  }
  return out;
}
