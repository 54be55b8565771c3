import { clamp01, cross, dot, type Vec3 } from '../math';
import { faceMask, type FaceRuns, subjectDiagonal, type Mesh } from '../mesh';

/** Pixels a side of the picture of depths. */
export const SEEN_SIDE = 1024;

/** How the model was looked at. */
export interface SeenFrom {
  /** Takes places of the model to the picture's pixels: three rows of four, x from the left and y from the top times the depth, and the depth. */
  readonly view: readonly number[];
  /** Toward the eye where there is no perspective: model space. */
  readonly eye: Vec3;
  /** Triangles that were not shown. */
  readonly hidden: FaceRuns;
  /** Pixels a side of the picture; left out: SEEN_SIDE. */
  readonly side?: number;
}

/** Where a place lies on the picture. */
interface OnPicture {
  x: number;
  y: number;
  /** Grows away from the eye, model units. */
  depth: number;
}

/** What lies so much farther than what is nearest is seen still, in parts of the model: it lies in the same surface. */
const SAME = 2e-4;

/** Of a place on a slope, so many pixels' worth of depth are allowed for. */
const SLOPE_PIXELS = 1;

/** Slopes steeper than this count as this steep. */
const STEEPEST = 12;

/** Cosines toward the eye between which what faces away begins to be seen. */
const FACING_NONE = 0;
const FACING_FULL = 0.08;

/**
 * What of a model is seen from somewhere: the nearest depth at each pixel of a picture (a depth buffer, E. Catmull 1974), asked with a
 * margin that grows with the slope (L. Williams 1978).
 */
export class SeenParts {
  private readonly from: SeenFrom;
  private readonly depths: Float32Array;
  private readonly same: number;
  private readonly side: number;
  /** Where the eye stands; null without perspective. */
  private readonly stands: Vec3 | null;
  private readonly found: OnPicture = { x: 0, y: 0, depth: 0 };

  constructor(mesh: Mesh, from: SeenFrom) {
    this.from = from;
    this.side = from.side ?? SEEN_SIDE;
    this.same = subjectDiagonal(mesh) * SAME;
    this.stands = standsAt(from.view);
    this.depths = this.drawn(mesh);
  }

  /** How much of a place on the surface is seen, 0..1. @param normal unit */
  at(p: Vec3, normal: Vec3): number {
    const facing = dot(normal, this.toEye(p));
    if (!(facing > FACING_NONE) || !this.place(p, this.found)) return 0;
    const { x, y, depth } = this.found;
    const slope = Math.min(STEEPEST, Math.sqrt(1 - Math.min(1, facing * facing)) / facing);
    const margin = this.same + SLOPE_PIXELS * slope * this.pixelAt(p);
    return this.open(x, y, depth - margin) * clamp01(facing / FACING_FULL);
  }

  /** How much of the four pixels around a place has nothing nearer than a depth, 0..1. */
  private open(x: number, y: number, depth: number): number {
    const [x0, y0] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
    const [fx, fy] = [x - 0.5 - x0, y - 0.5 - y0];
    let sum = 0;
    for (let n = 0; n < 4; n++) {
      const cx = Math.min(this.side - 1, Math.max(0, x0 + (n & 1)));
      const cy = Math.min(this.side - 1, Math.max(0, y0 + (n >> 1)));
      if (this.depths[cy * this.side + cx]! < depth) continue;
      sum += (n & 1 ? fx : 1 - fx) * (n >> 1 ? fy : 1 - fy);
    }
    return sum;
  }

  /** @returns false beyond the picture's rim and behind the eye */
  private place([x, y, z]: Vec3, out: OnPicture): boolean {
    const { view: m, eye } = this.from;
    const row = (o: number): number => m[o]! * x + m[o + 1]! * y + m[o + 2]! * z + m[o + 3]!;
    const w = row(8);
    if (!(w > 0)) return false;
    out.x = row(0) / w;
    out.y = row(4) / w;
    out.depth = this.stands ? w / rowLength(m, 8) : -(eye[0] * x + eye[1] * y + eye[2] * z);
    return out.x >= 0 && out.y >= 0 && out.x < this.side && out.y < this.side;
  }

  private toEye([x, y, z]: Vec3): Vec3 {
    const { stands } = this;
    if (!stands) return this.from.eye;
    const d: Vec3 = [stands[0] - x, stands[1] - y, stands[2] - z];
    const l = Math.sqrt(dot(d, d)) || 1;
    return [d[0] / l, d[1] / l, d[2] / l];
  }

  /** Length of a pixel there, the longer way, model units. */
  private pixelAt([x, y, z]: Vec3): number {
    const m = this.from.view;
    const w = m[8]! * x + m[9]! * y + m[10]! * z + m[11]!;
    return w / Math.min(rowLength(m, 0), rowLength(m, 4)) || 0;
  }

  private drawn({ positions: p, indices }: Mesh): Float32Array {
    const depths = new Float32Array(this.side * this.side).fill(Infinity);
    const count = indices.length / 3;
    const hidden = faceMask(count, this.from.hidden);
    const corners: OnPicture[] = [0, 1, 2].map(() => ({ x: 0, y: 0, depth: 0 }));
    for (let f = 0; f < count; f++) {
      if (hidden[f]) continue;
      let before = 0;
      for (let k = 0; k < 3; k++) {
        const v = indices[f * 3 + k]! * 3;
        // Beyond the rim is all right for a corner.
        this.place([p[v]!, p[v + 1]!, p[v + 2]!], corners[k]!);
        if (this.isBefore(p, v)) before++;
      }
      // One that reaches behind the eye can't be laid out; the camera keeps clear of the model.
      if (before === 3) drawTriangle(depths, this.side, corners, this.stands !== null);
    }
    return depths;
  }

  private isBefore(p: Float32Array, v: number): boolean {
    const m = this.from.view;
    return m[8]! * p[v]! + m[9]! * p[v + 1]! + m[10]! * p[v + 2]! + m[11]! > 0;
  }
}

const rowLength = (m: readonly number[], o: number): number =>
  Math.sqrt(m[o]! ** 2 + m[o + 1]! ** 2 + m[o + 2]! ** 2);

/** The place that all lines of sight meet in: where all three rows are 0. Null where they run side by side. */
function standsAt(m: readonly number[]): Vec3 | null {
  const row = (o: number): Vec3 => [m[o]!, m[o + 1]!, m[o + 2]!];
  const [a, b, c] = [row(0), row(4), row(8)];
  // The depth grows nowhere: there is no perspective.
  if (rowLength(m, 8) === 0) return null;
  const det = dot(a, cross(b, c));
  if (det === 0) return null;
  const solve = (k: 0 | 1 | 2): number =>
    -(m[3]! * cross(b, c)[k] + m[7]! * cross(c, a)[k] + m[11]! * cross(a, b)[k]) / det;
  return [solve(0), solve(1), solve(2)];
}

/** Keeps the nearest depth at the middle of each pixel within a triangle. */
function drawTriangle(
  depths: Float32Array,
  side: number,
  corners: readonly OnPicture[],
  perspective: boolean,
): void {
  const [a, b, c] = corners as [OnPicture, OnPicture, OnPicture];
  const area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
  if (!(Math.abs(area) > 1e-12)) return;
  const left = Math.max(0, Math.ceil(Math.min(a.x, b.x, c.x) - 0.5));
  const right = Math.min(side - 1, Math.floor(Math.max(a.x, b.x, c.x) - 0.5));
  const top = Math.max(0, Math.ceil(Math.min(a.y, b.y, c.y) - 0.5));
  const bottom = Math.min(side - 1, Math.floor(Math.max(a.y, b.y, c.y) - 0.5));
  // In perspective it is the inverse that runs evenly over the picture.
  const even = (d: number): number => (perspective ? 1 / d : d);
  const [da, db, dc] = [even(a.depth), even(b.depth), even(c.depth)];
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const [px, py] = [x + 0.5, y + 0.5];
      const wb = ((px - a.x) * (c.y - a.y) - (py - a.y) * (c.x - a.x)) / area;
      const wc = ((b.x - a.x) * (py - a.y) - (b.y - a.y) * (px - a.x)) / area;
      if (wb < 0 || wc < 0 || wb + wc > 1) continue;
      const depth = even(da * (1 - wb - wc) + db * wb + dc * wc);
      const o = y * side + x;
      if (depth < depths[o]!) depths[o] = depth;
    }
  }
}
