import TinyQueue from 'tinyqueue';
import type { Topology } from '../../mesh';

/** Which edges meet at each welded vertex: vertex v's stand from start[v] to start[v + 1]. */
export interface EdgeFans {
  readonly start: Uint32Array;
  readonly edge: Uint32Array;
}

/** The edges around each welded vertex. */
export function edgeFans({ edges, welded }: Topology): EdgeFans {
  const start = new Uint32Array(welded.length + 1);
  for (const v of edges.ends) start[v + 1]!++;
  for (let v = 0; v < welded.length; v++) start[v + 1]! += start[v]!;
  const at = start.slice();
  const edge = new Uint32Array(edges.ends.length);
  edges.ends.forEach((v, i) => (edge[at[v]!++] = i >> 1));
  return { start, edge };
}

/**
 * The cheapest way along edges (E. W. Dijkstra, "A Note on Two Problems in Connexion with Graphs", 1959).
 *
 * @param cost of an edge, 0 or more; Infinity where no way leads
 * @param from welded vertices where it may begin
 * @param to welded vertices where it may end
 * @returns the edges in order; empty if there is no way, or if an end is a beginning
 */
export function cheapestPath(
  topology: Topology,
  cost: (edge: number) => number,
  from: Iterable<number>,
  to: ReadonlySet<number>,
  fans: EdgeFans = edgeFans(topology),
): number[] {
  const { ends } = topology.edges;
  const best = new Map<number, number>();
  const cameBy = new Map<number, number>();
  const done = new Set<number>();
  const queue = new TinyQueue<{ readonly cost: number; readonly vertex: number }>(
    [],
    (a, b) => a.cost - b.cost,
  );
  for (const v of from) {
    best.set(v, 0);
    queue.push({ cost: 0, vertex: v });
  }
  for (let next = queue.pop(); next; next = queue.pop()) {
    let v = next.vertex;
    if (done.has(v)) continue;
    done.add(v);
    if (to.has(v)) {
      const path: number[] = [];
      for (let e = cameBy.get(v); e !== undefined; e = cameBy.get(v)) {
        path.push(e);
        v = ends[e * 2] === v ? ends[e * 2 + 1]! : ends[e * 2]!;
      }
      return path.reverse();
    }
    for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++) {
      const e = fans.edge[i]!;
      const w = ends[e * 2] === v ? ends[e * 2 + 1]! : ends[e * 2]!;
      const reach = best.get(v)! + cost(e);
      if (!(reach < (best.get(w) ?? Infinity))) continue;
      best.set(w, reach);
      cameBy.set(w, e);
      queue.push({ cost: reach, vertex: w });
    }
  }
  return [];
}
