import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { minimumDegree } from './minimum-degree';
import { FactorPattern } from './factor-pattern';
import { SparseLdl } from './sparse-ldl';
import { SparseBuilder, type SparseRows } from './sparse-rows';

/** The Laplacian of a graph, with 1 added on the diagonal: symmetric and positive definite. */
function laplacian(n: number, edges: readonly (readonly [number, number])[]): SparseRows {
  const builder = new SparseBuilder(n, edges.length * 4 + n);
  for (let v = 0; v < n; v++) builder.add(v, v, 1);
  for (const [a, b] of edges) {
    builder.add(a, a, 1);
    builder.add(b, b, 1);
    builder.add(a, b, -1);
    builder.add(b, a, -1);
  }
  return builder.finish();
}

function grid(side: number): [number, number][] {
  const edges: [number, number][] = [];
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const v = y * side + x;
      if (x + 1 < side) edges.push([v, v + 1]);
      if (y + 1 < side) edges.push([v, v + side]);
      if (x + 1 < side && y + 1 < side) edges.push([v, v + side + 1]);
    }
  }
  return edges;
}

const entries = (matrix: SparseRows, order: Int32Array): number =>
  new FactorPattern(matrix, order).start.at(-1)!;
const natural = (n: number): Int32Array => Int32Array.from({ length: n }, (_, i) => i);

const graphs = fc
  .integer({ min: 1, max: 40 })
  .chain((n) =>
    fc.tuple(
      fc.constant(n),
      fc.array(fc.tuple(fc.integer({ min: 0, max: n - 1 }), fc.integer({ min: 0, max: n - 1 })), {
        maxLength: 120,
      }),
    ),
  )
  .map(([n, pairs]) => [n, pairs.filter(([a, b]) => a !== b)] as const);

describe('the order of elimination', () => {
  it('has every unknown once, whatever touches what', () => {
    fc.assert(
      fc.property(graphs, ([n, edges]) => {
        expect([...minimumDegree(laplacian(n, edges))].sort((a, b) => a - b)).toEqual([...natural(n)]);
      }),
    );
  });

  // S. Parter, "The Use of Linear Graphs in Gauss Elimination", 1961: a tree is eliminated from its leaves without any fill.
  it('fills nothing in on a tree', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(1000), { minLength: 1, maxLength: 200 }), (parents) => {
        const edges = parents.map((p, i) => [i + 1, p % (i + 1)] as const);
        const matrix = laplacian(parents.length + 1, edges);
        expect(entries(matrix, minimumDegree(matrix))).toBe(parents.length);
      }),
    );
  });

  // T. A. Davis, "Direct Methods for Sparse Linear Systems", 2006, ch. 7: of a grid by rows the factor has about side³ entries.
  it('fills a grid in far less than row by row', () => {
    const matrix = laplacian(3600, grid(60));
    const own = entries(matrix, minimumDegree(matrix));
    expect(entries(matrix, natural(3600))).toBeGreaterThan(0.9 * 60 ** 3);
    expect(own).toBeLessThan(0.4 * 60 ** 3);
  });

  it('leaves what touches very many for the end: a wheel of a hundred thousand spokes fills in next to nothing', () => {
    const n = 100_000;
    const rim = Array.from({ length: n }, (_, i) => [i, (i + 1) % n] as const);
    const matrix = laplacian(n + 1, [...rim, ...rim.map(([i]) => [i, n] as const)]);
    const order = minimumDegree(matrix);
    expect(order.at(-1)).toBe(n);
    // Spokes, rim, and one more edge for each that is eliminated from the ring.
    expect(entries(matrix, order)).toBeLessThan(3 * n);
  });

  it('makes room for lists that grow beyond what was set aside', () => {
    // A star of cliques: much is eliminated at once, and its lists are long.
    const edges: [number, number][] = [];
    for (let k = 0; k < 30; k++) {
      for (let i = 0; i < 8; i++) for (let j = 0; j < i; j++) edges.push([k * 8 + i, k * 8 + j]);
      edges.push([k * 8, ((k * 7 + 3) % 30) * 8 + 5]);
    }
    const matrix = laplacian(240, edges);
    expect(new Set(minimumDegree(matrix)).size).toBe(240);
  });

  it('gives the solution that Gaussian elimination gives, for two right sides at once', () => {
    fc.assert(
      fc.property(graphs, fc.integer({ min: 1, max: 1e6 }), ([n, edges], seed) => {
        const matrix = laplacian(n, edges);
        const right = Float64Array.from({ length: n * 2 }, (_, i) => Math.sin(seed + i * i));
        const solved = right.slice();
        new SparseLdl(matrix, minimumDegree(matrix)).solvePairs(solved);
        for (const side of [0, 1]) {
          const wanted = gauss(
            dense(matrix, n),
            [...right].filter((_, i) => i % 2 === side),
          );
          wanted.forEach((x, i) => expect(solved[i * 2 + side]).toBeCloseTo(x, 9));
        }
      }),
      { numRuns: 40 },
    );
  });
});

function dense({ start, column, value }: SparseRows, n: number): number[][] {
  const out = Array.from({ length: n }, () => new Array<number>(n).fill(0));
  for (let r = 0; r < n; r++)
    for (let k = start[r]!; k < start[r + 1]!; k++) out[r]![column[k]!]! += value[k]!;
  return out;
}

/** Gauss-Jordan with partial pivoting, as in every textbook. */
function gauss(a: number[][], b: number[]): number[] {
  const n = b.length;
  const m = a.map((row, i) => [...row, b[i]!]);
  for (let k = 0; k < n; k++) {
    let p = k;
    for (let r = k; r < n; r++) if (Math.abs(m[r]![k]!) > Math.abs(m[p]![k]!)) p = r;
    [m[k], m[p]] = [m[p]!, m[k]!];
    for (let r = 0; r < n; r++) {
      if (r === k) continue;
      const f = m[r]![k]! / m[k]![k]!;
      for (let c = k; c <= n; c++) m[r]![c]! -= f * m[k]![c]!;
    }
  }
  return m.map((row, i) => row[n]! / row[i]!);
}
