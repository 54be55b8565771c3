import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ClusterGraph } from './cluster-graph';
import { PairQueue } from './pair-queue';

const CLUSTERS = 12;

/** What the graph should know, kept in plain maps: for each cluster its neighbours with the edges that they share. */
class PlainGraph {
  readonly shared = new Map<string, { edges: number[]; length: number }>();
  private readonly key = (a: number, b: number): string => `${Math.min(a, b)} ${Math.max(a, b)}`;

  link(a: number, b: number, edge: number, length: number): void {
    const known = this.shared.get(this.key(a, b));
    if (known) {
      known.edges.push(edge);
      known.length += length;
    } else this.shared.set(this.key(a, b), { edges: [edge], length });
  }

  merge(a: number, b: number): void {
    const old = [...this.shared];
    this.shared.clear();
    for (const [key, { edges, length }] of old) {
      const [x, y] = key.split(' ').map((c) => (Number(c) === b ? a : Number(c))) as [number, number];
      if (x === y) continue;
      const known = this.shared.get(this.key(x, y));
      if (known) {
        known.edges.push(...edges);
        known.length += length;
      } else this.shared.set(this.key(x, y), { edges: [...edges], length });
    }
  }
}

function pairsOf(graph: ClusterGraph): Map<string, { edges: number[]; length: number }> {
  const out = new Map<string, { edges: number[]; length: number }>();
  for (let pair = 0; pair < graph.pairs; pair++) {
    if (graph.isGone(pair)) continue;
    const [a, b] = [graph.ends[pair * 2]!, graph.ends[pair * 2 + 1]!];
    const edges: number[] = [];
    for (let e = graph.firstEdge[pair]!; e >= 0; e = graph.nextEdge[e]!) edges.push(e);
    out.set(`${Math.min(a, b)} ${Math.max(a, b)}`, { edges, length: graph.lengths[pair]! });
  }
  return out;
}

describe('clusters and their pairs', () => {
  it('are after any joins what plain maps say', () => {
    const cluster = fc.integer({ min: 0, max: CLUSTERS - 1 });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(cluster, cluster), { minLength: 1, maxLength: 60 }),
        fc.array(fc.nat(1000), { maxLength: 11 }),
        (links, joins) => {
          const edges = links.filter(([a, b]) => a !== b);
          const graph = new ClusterGraph(CLUSTERS, edges.length);
          const plain = new PlainGraph();
          edges.forEach(([a, b], e) => {
            graph.link(a, b, e, e + 1);
            plain.link(a, b, e, e + 1);
          });
          for (const n of joins) {
            const left = [...Array(graph.pairs).keys()].filter((p) => !graph.isGone(p));
            if (left.length === 0) break;
            const pair = left[n % left.length]!;
            const [a, b] = [graph.ends[pair * 2]!, graph.ends[pair * 2 + 1]!];
            graph.merge(pair, a, b);
            plain.merge(a, b);
            const got = pairsOf(graph);
            expect([...got.keys()].sort()).toEqual([...plain.shared.keys()].sort());
            for (const [key, { edges: list, length }] of plain.shared) {
              expect(got.get(key)!.edges.sort((x, y) => x - y)).toEqual(list.sort((x, y) => x - y));
              expect(got.get(key)!.length).toBeCloseTo(length, 9);
            }
            for (let c = 0; c < CLUSTERS; c++) {
              const visited: number[] = [];
              if (c !== b) graph.forEachPairOf(c, (p) => visited.push(p));
              const wanted = [...plain.shared.keys()].filter((k) => k.split(' ').includes(String(c)));
              expect(visited).toHaveLength(wanted.length);
              expect(graph.degrees[c]).toBe(wanted.length);
            }
          }
        },
      ),
    );
  });
});

describe('the queue of pairs', () => {
  it('gives the cheapest first, within 0.8 %, and all of them', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: Math.fround(-1), max: 1e6, noNaN: true }), { maxLength: 300 }),
        (costs) => {
          const queue = new PairQueue();
          costs.forEach((cost, i) => queue.push(cost, i, i + 7));
          const out: number[] = [];
          for (let top = queue.pop(); top; top = queue.pop()) {
            expect(top.version).toBe(top.pair + 7);
            out.push(top.pair);
          }
          expect([...out].sort((a, b) => a - b)).toEqual(costs.map((_, i) => i));
          out.slice(1).forEach((pair, i) => {
            expect(Math.max(0, costs[pair]!) * 1.008).toBeGreaterThanOrEqual(
              Math.max(0, costs[out[i]!]!) - 1e-30,
            );
          });
        },
      ),
    );
  });

  it('keeps the order of those that cost the same, and takes cheaper ones that come later first', () => {
    const queue = new PairQueue();
    queue.push(5, 1, 0);
    queue.push(5, 2, 0);
    expect(queue.pop()!.pair).toBe(1);
    queue.push(1, 3, 0);
    expect(queue.pop()!.pair).toBe(3);
    expect(queue.pop()!.pair).toBe(2);
    expect(queue.pop()).toBeNull();
  });
});
