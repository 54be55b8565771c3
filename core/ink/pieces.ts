import { clamp01 } from '../math';

/** Numbers of a straight piece in flat coordinates: where it begins, where it goes, 1 / its length squared, half its width and how that changes. */
const PIECE = 7;

/** Straight pieces of a line in flat coordinates. */
export class Pieces {
  values = new Float64Array(64 * PIECE);
  count = 0;

  clear(): void {
    this.count = 0;
  }

  add(u0: number, v0: number, h0: number, u1: number, v1: number, h1: number): void {
    const o = this.count++ * PIECE;
    if (o + PIECE > this.values.length) {
      const more = new Float64Array(this.values.length * 2);
      more.set(this.values);
      this.values = more;
    }
    const [du, dv] = [u1 - u0, v1 - v0];
    const squared = du * du + dv * dv;
    const { values } = this;
    values[o] = u0;
    values[o + 1] = v0;
    values[o + 2] = du;
    values[o + 3] = dv;
    values[o + 4] = squared > 0 ? 1 / squared : 0;
    values[o + 5] = h0;
    values[o + 6] = h1 - h0;
  }

  /** How far a place lies from the nearest of them, squared. */
  squaredTo(u: number, v: number): number {
    const { values: p } = this;
    let least = Infinity;
    for (let o = 0; o < this.count * PIECE; o += PIECE) {
      const [x, y] = [u - p[o]!, v - p[o + 1]!];
      const t = clamp01((x * p[o + 2]! + y * p[o + 3]!) * p[o + 4]!);
      const [dx, dy] = [x - p[o + 2]! * t, y - p[o + 3]! * t];
      least = Math.min(least, dx * dx + dy * dy);
    }
    return least;
  }

  /**
   * The part of a texel that they cover: exact where a border is straight over the texel.
   *
   * @param steps what a step of one texel to the right adds to u and v, and what one downward adds
   */
  cover(u: number, v: number, steps: Steps): number {
    const { values: p } = this;
    const [ru, rv, du, dv] = steps;
    // No texel reaches further from its middle.
    const side = (Math.abs(ru) + Math.abs(rv) + Math.abs(du) + Math.abs(dv)) / 2;
    let most = 0;
    for (let o = 0; o < this.count * PIECE; o += PIECE) {
      const x = u - p[o]!;
      const y = v - p[o + 1]!;
      const t = clamp01((x * p[o + 2]! + y * p[o + 3]!) * p[o + 4]!);
      const half = p[o + 5]! + p[o + 6]! * t;
      const dx = x - p[o + 2]! * t;
      const dy = y - p[o + 3]! * t;
      const squared = dx * dx + dy * dy;
      const far = half + side;
      if (half <= 0 || squared >= far * far) continue;
      const d = Math.sqrt(squared);
      if (d <= half - side) return 1;
      // Across the line; on it, square to it.
      const long = d > 0 ? d : Math.sqrt(p[o + 2]! ** 2 + p[o + 3]! ** 2) || 1;
      const nu = d > 0 ? dx / long : -p[o + 3]! / long;
      const nv = d > 0 ? dy / long : p[o + 2]! / long;
      const right = Math.abs(nu * ru + nv * rv);
      const down = Math.abs(nu * du + nv * dv);
      const covered = below(half - d, right, down) - below(-half - d, right, down);
      if (covered > most) most = covered;
    }
    return most < 1 ? most : 1;
  }

  /** Whether a place lies within the polygon that they are, by how often a ray from it crosses them. */
  surround(u: number, v: number): boolean {
    const { values: p } = this;
    let within = false;
    for (let o = 0; o < this.count * PIECE; o += PIECE) {
      const [u0, v0, du, dv] = [p[o]!, p[o + 1]!, p[o + 2]!, p[o + 3]!];
      if (v0 > v !== v0 + dv > v && u < u0 + (du * (v - v0)) / dv) within = !within;
    }
    return within;
  }

  /** The box around them, widened. */
  box(by: number): Box {
    const { values: p } = this;
    let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let o = 0; o < this.count * PIECE; o += PIECE) {
      const [a, b, c, d] = [p[o]!, p[o + 1]!, p[o]! + p[o + 2]!, p[o + 1]! + p[o + 3]!];
      u0 = Math.min(u0, a, c);
      u1 = Math.max(u1, a, c);
      v0 = Math.min(v0, b, d);
      v1 = Math.max(v1, b, d);
    }
    return { u0: u0 - by, v0: v0 - by, u1: u1 + by, v1: v1 + by };
  }
}

/** What a step of one texel to the right adds to u and v, and what one downward adds. */
export type Steps = readonly [rightU: number, rightV: number, downU: number, downV: number];

/**
 * The part of a texel that lies below a straight border.
 *
 * @param x how far the border lies over the texel's middle
 * @param a, b by how much the texel rises across its width and its height
 */
function below(x: number, a: number, b: number): number {
  const [wide, narrow] = a > b ? [a, b] : [b, a];
  const reach = (wide + narrow) / 2;
  if (x >= reach) return 1;
  if (x <= -reach) return 0;
  const inner = (wide - narrow) / 2;
  if (Math.abs(x) <= inner) return 0.5 + x / wide;
  const rest = (reach - Math.abs(x)) ** 2 / (2 * wide * narrow);
  return x > 0 ? 1 - rest : rest;
}

export interface Box {
  readonly u0: number;
  readonly v0: number;
  readonly u1: number;
  readonly v1: number;
}
