import { boxDistance, buildBinaryTree } from './binary-tree';

/** A place on a mesh: a triangle and the weights of its corners. */
export interface SurfacePoint {
  face: number;
  w0: number;
  w1: number;
  w2: number;
  /** How far it is from where it was asked, model units. */
  distance: number;
}

/** Finds the nearest place on some triangles of a mesh. */
export class ClosestPoint {
  private readonly positions: Float32Array;
  private readonly indices: Uint32Array;
  private readonly faces: Uint32Array;
  private readonly tree: ReturnType<typeof buildBinaryTree>;
  private readonly stack = new Int32Array(256);
  private readonly trial: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: Infinity };

  /** @param faces the triangles to look at, at least one; all of them if none are named */
  constructor(
    positions: Float32Array,
    indices: Uint32Array,
    faces = Uint32Array.from({ length: indices.length / 3 }, (_, f) => f),
  ) {
    this.positions = positions;
    this.indices = indices;
    this.faces = faces;
    const own = new Uint32Array(faces.length * 3);
    faces.forEach((f, i) => own.set(indices.subarray(f * 3, f * 3 + 3), i * 3));
    this.tree = buildBinaryTree(positions, own);
  }

  /** @param out receives the place */
  find(x: number, y: number, z: number, out: SurfacePoint): void {
    const { tree, stack, trial } = this;
    const { bounds, first, count, order } = tree;
    let best = Infinity;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top]!;
      if (boxDistance(bounds, node * 6, x, y, z) >= best) continue;
      if (count[node]! > 0) {
        for (let i = first[node]!; i < first[node]! + count[node]!; i++) {
          const face = this.faces[order[i]!]!;
          const d = closestOnTriangle(this.positions, this.indices, face, x, y, z, trial);
          if (d >= best) continue;
          best = d;
          out.face = face;
          out.w0 = trial.w0;
          out.w1 = trial.w1;
          out.w2 = trial.w2;
        }
        continue;
      }
      const left = first[node]!;
      const a = boxDistance(bounds, left * 6, x, y, z);
      const b = boxDistance(bounds, left * 6 + 6, x, y, z);
      // The nearer child is looked at first.
      stack[top++] = a < b ? left + 1 : left;
      stack[top++] = a < b ? left : left + 1;
    }
    out.distance = Math.sqrt(best);
  }
}

/**
 * The nearest place on one triangle (C. Ericson, "Real-Time Collision Detection", 2005, 5.1.5).
 *
 * @param out receives the weights of its corners
 * @returns squared distance
 */
export function closestOnTriangle(
  p: Float32Array,
  indices: Uint32Array,
  face: number,
  x: number,
  y: number,
  z: number,
  out: SurfacePoint,
): number {
  const a = indices[face * 3]! * 3;
  const b = indices[face * 3 + 1]! * 3;
  const c = indices[face * 3 + 2]! * 3;
  const abx = p[b]! - p[a]!;
  const aby = p[b + 1]! - p[a + 1]!;
  const abz = p[b + 2]! - p[a + 2]!;
  const acx = p[c]! - p[a]!;
  const acy = p[c + 1]! - p[a + 1]!;
  const acz = p[c + 2]! - p[a + 2]!;
  const apx = x - p[a]!;
  const apy = y - p[a + 1]!;
  const apz = z - p[a + 2]!;
  const d1 = abx * apx + aby * apy + abz * apz;
  const d2 = acx * apx + acy * apy + acz * apz;
  const bb = abx * abx + aby * aby + abz * abz;
  const bc = abx * acx + aby * acy + abz * acz;
  const cc = acx * acx + acy * acy + acz * acz;
  const d3 = d1 - bb;
  const d4 = d2 - bc;
  const d5 = d1 - bc;
  const d6 = d2 - cc;
  let v = 0;
  let w = 0;
  const vc = d1 * d4 - d3 * d2;
  const vb = d5 * d2 - d1 * d6;
  const va = d3 * d6 - d5 * d4;
  if (d1 <= 0 && d2 <= 0) v = w = 0;
  else if (d3 >= 0 && d4 <= d3) v = 1;
  else if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 / (d1 - d3);
  else if (d6 >= 0 && d5 <= d6) w = 1;
  else if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 / (d2 - d6);
  else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    v = 1 - w;
  } else {
    const sum = va + vb + vc;
    v = vb / sum;
    w = vc / sum;
  }
  if (!(v >= 0 && w >= 0)) v = w = 0;
  out.w0 = 1 - v - w;
  out.w1 = v;
  out.w2 = w;
  const dx = apx - v * abx - w * acx;
  const dy = apy - v * aby - w * acy;
  const dz = apz - v * abz - w * acz;
  return dx * dx + dy * dy + dz * dz;
}
