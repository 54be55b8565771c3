import { nextCorner } from '../../mesh';
import { type Chart } from '../segment/chart';
import { minimumDegree } from '../linear/minimum-degree';
import { cotangent, SHAPE, shapeArea } from '../flatten/rest-shape';
import { SparseLdl } from '../linear/sparse-ldl';

/**
 * Curvature of the Dirichlet energy where nothing is stretched, in Laplacians of the surface: 8 across both ways at once, 4 along a
 * turn-free shear. The mean takes the fewest steps (measured with 4, 6 and 8 on the demo's otter: 41, 36, 38).
 */
const CURVATURE = 6;

/** Weights of edges stay within these: obtuse corners would make the matrix indefinite. */
const LEAST_WEIGHT = 0.01;
const MOST_WEIGHT = 100;

/**
 * The Laplacian of a chart, factorised once, and what it is good for: the layout that fits triangles best which are each laid flat
 * in some turn (L. Liu et al., "A Local/Global Approach to Mesh Parameterization", 2008).
 */
export class RigidFit {
  private readonly indices: Uint32Array;
  private readonly opposite: Int32Array;
  private readonly shapes: Float64Array;
  private readonly ldl: SparseLdl;
  /** The edge of each corner as it lies at rest, xy times its weight. */
  private readonly edges: Float64Array;
  /** Cosine and sine of each triangle's turn. */
  private readonly turns: Float64Array;

  /** @param opposite of `oppositeCorners` */
  constructor(chart: Chart, shapes: Float64Array, opposite: Int32Array) {
    const { indices } = chart;
    this.indices = indices;
    this.opposite = opposite;
    this.shapes = shapes;
    this.turns = new Float64Array((indices.length / 3) * 2);
    let area = 0;
    for (let f = 0; f < indices.length / 3; f++) area += shapeArea(shapes, f);
    const weights = edgeWeights(shapes, indices.length, CURVATURE / (2 * area));
    this.edges = new Float64Array(indices.length * 2);
    for (let c = 0; c < indices.length; c++) {
      const o = Math.floor(c / 3) * SHAPE;
      const a = o + (c % 3) * 2;
      const b = o + (nextCorner(c) % 3) * 2;
      this.edges[c * 2] = weights[c]! * (shapes[b]! - shapes[a]!);
      this.edges[c * 2 + 1] = weights[c]! * (shapes[b + 1]! - shapes[a + 1]!);
    }
    // Moving the whole changes nothing: a trace on the diagonal keeps the matrix definite.
    this.ldl = laplacian(chart, opposite, weights, 1e-7 / area);
  }

  /** Applies the inverse of the Laplacian to two right sides at once. @param x xy a vertex; receives the solutions */
  solvePairs(x: Float64Array): void {
    this.ldl.solvePairs(x);
  }

  /**
   * The layout that comes of laying the triangles flat one beside the other, from the middle of the chart outward. Where they
   * don't fit, what is missing is spread over all. It is close to the end already if the surface is nearly developable.
   *
   * @param uv receives uv a vertex
   */
  unroll(uv: Float64Array): void {
    const { indices, opposite, shapes, turns } = this;
    const faces = indices.length / 3;
    const queue = new Int32Array(faces);
    const seen = new Uint8Array(faces);
    const reach = (used: number, visit?: (from: number, to: number) => void): void => {
      for (let i = 0; i < used; i++) {
        const f = queue[i]!;
        for (let c = f * 3; c < f * 3 + 3; c++) {
          if (opposite[c]! < 0) continue;
          const g = Math.floor(opposite[c]! / 3);
          if (seen[g]) continue;
          seen[g] = 1;
          visit?.(c, opposite[c]!);
          queue[used++] = g;
        }
      }
    };
    let outer = 0;
    for (let f = 0; f < faces; f++) {
      if (opposite[f * 3]! >= 0 && opposite[f * 3 + 1]! >= 0 && opposite[f * 3 + 2]! >= 0) continue;
      seen[f] = 1;
      queue[outer++] = f;
    }
    reach(outer);
    // The triangle that was reached last lies deepest inside.
    const middle = queue[faces - 1]!;
    seen.fill(0);
    seen[middle] = 1;
    queue[0] = middle;
    turns[middle * 2] = 1;
    turns[middle * 2 + 1] = 0;
    reach(1, (c, o) => {
      const f = Math.floor(c / 3);
      const g = Math.floor(o / 3);
      const [fa, fb] = [f * SHAPE + (c % 3) * 2, f * SHAPE + (nextCorner(c) % 3) * 2];
      const [gb, ga] = [g * SHAPE + (o % 3) * 2, g * SHAPE + (nextCorner(o) % 3) * 2];
      const ux = shapes[fb]! - shapes[fa]!;
      const uy = shapes[fb + 1]! - shapes[fa + 1]!;
      const vx = shapes[gb]! - shapes[ga]!;
      const vy = shapes[gb + 1]! - shapes[ga + 1]!;
      // The turn from v to u, after that of f.
      const re = ux * vx + uy * vy;
      const im = uy * vx - ux * vy;
      const x = turns[f * 2]! * re - turns[f * 2 + 1]! * im;
      const y = turns[f * 2]! * im + turns[f * 2 + 1]! * re;
      const l = Math.sqrt(x * x + y * y) || 1;
      turns[g * 2] = x / l;
      turns[g * 2 + 1] = y / l;
    });
    this.fit(uv);
  }

  /**
   * Turns every triangle to where it lies best in a layout, and fits a layout to them.
   *
   * @param uv uv a vertex
   * @param out receives the result; may be `uv` itself
   */
  step(uv: Float64Array, out: Float64Array): void {
    const { indices, edges, turns } = this;
    for (let f = 0; f < indices.length / 3; f++) {
      const i = indices[f * 3]! * 2;
      const j = indices[f * 3 + 1]! * 2;
      const k = indices[f * 3 + 2]! * 2;
      const e = f * 6;
      const u0 = uv[j]! - uv[i]!;
      const v0 = uv[j + 1]! - uv[i + 1]!;
      const u1 = uv[k]! - uv[j]!;
      const v1 = uv[k + 1]! - uv[j + 1]!;
      const u2 = uv[i]! - uv[k]!;
      const v2 = uv[i + 1]! - uv[k + 1]!;
      const x0 = edges[e]!;
      const y0 = edges[e + 1]!;
      const x1 = edges[e + 2]!;
      const y1 = edges[e + 3]!;
      const x2 = edges[e + 4]!;
      const y2 = edges[e + 5]!;
      const re = u0 * x0 + v0 * y0 + u1 * x1 + v1 * y1 + u2 * x2 + v2 * y2;
      const im = v0 * x0 - u0 * y0 + v1 * x1 - u1 * y1 + v2 * x2 - u2 * y2;
      const l = Math.sqrt(re * re + im * im) || 1;
      turns[f * 2] = re / l;
      turns[f * 2 + 1] = im / l;
    }
    this.fit(out);
  }

  private fit(out: Float64Array): void {
    const { indices, edges, turns } = this;
    out.fill(0);
    for (let f = 0; f < indices.length / 3; f++) {
      const i = indices[f * 3]! * 2;
      const j = indices[f * 3 + 1]! * 2;
      const k = indices[f * 3 + 2]! * 2;
      const re = turns[f * 2]!;
      const im = turns[f * 2 + 1]!;
      const e = f * 6;
      const x0 = re * edges[e]! - im * edges[e + 1]!;
      const y0 = im * edges[e]! + re * edges[e + 1]!;
      const x1 = re * edges[e + 2]! - im * edges[e + 3]!;
      const y1 = im * edges[e + 2]! + re * edges[e + 3]!;
      const x2 = re * edges[e + 4]! - im * edges[e + 5]!;
      const y2 = im * edges[e + 4]! + re * edges[e + 5]!;
      out[i]! += x2 - x0;
      out[i + 1]! += y2 - y0;
      out[j]! += x0 - x1;
      out[j + 1]! += y0 - y1;
      out[k]! += x1 - x2;
      out[k + 1]! += y1 - y2;
    }
    this.ldl.solvePairs(out);
  }
}

/** For the edge of each corner half the cotangent of the angle that looks at it, bounded, times `scale` times 2. */
function edgeWeights(shapes: Float64Array, corners: number, scale: number): Float64Array {
  const out = new Float64Array(corners);
  for (let f = 0; f < corners / 3; f++) {
    for (let k = 0; k < 3; k++) {
      const cot = cotangent(shapes, f, k);
      out[f * 3 + ((k + 1) % 3)] = Math.max(LEAST_WEIGHT, Math.min(MOST_WEIGHT, cot)) * scale;
    }
  }
  return out;
}

function laplacian(
  { positions, indices }: Chart,
  opposite: Int32Array,
  weights: Float64Array,
  trace: number,
): SparseLdl {
  const n = positions.length / 3;
  const corners = indices.length;
  /** Of an edge that is met twice only the first corner counts. */
  const isFirst = (c: number): boolean => opposite[c]! < 0 || c < opposite[c]!;
  const start = new Uint32Array(n + 1);
  for (let v = 0; v < n; v++) start[v + 1] = 1;
  for (let c = 0; c < corners; c++) {
    if (!isFirst(c)) continue;
    start[indices[c]! + 1]!++;
    start[indices[nextCorner(c)]! + 1]!++;
  }
  for (let v = 0; v < n; v++) start[v + 1]! += start[v]!;
  const column = new Uint32Array(start[n]!);
  const value = new Float64Array(start[n]!);
  // The first entry of a row is its diagonal.
  const end = new Uint32Array(n);
  for (let v = 0; v < n; v++) {
    column[start[v]!] = v;
    value[start[v]!] = trace;
    end[v] = start[v]! + 1;
  }
  for (let c = 0; c < corners; c++) {
    if (!isFirst(c)) continue;
    const i = indices[c]!;
    const j = indices[nextCorner(c)]!;
    const w = weights[c]! + (opposite[c]! < 0 ? 0 : weights[opposite[c]!]!);
    value[start[i]!]! += w;
    value[start[j]!]! += w;
    column[end[i]!] = j;
    value[end[i]!++] = -w;
    column[end[j]!] = i;
    value[end[j]!++] = -w;
  }
  const matrix = { start, column, value };
  return new SparseLdl(matrix, minimumDegree(matrix));
}
