import type { Topology } from '../mesh';

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
  const heap = new VertexHeap();
  for (const v of from) {
    best.set(v, 0);
    heap.push(0, v);
  }
  for (let v = heap.pop(); v !== null; v = heap.pop()) {
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
      heap.push(reach, w);
    }
  }
  return [];
}

class VertexHeap {
  private readonly costs: number[] = [];
  private readonly vertices: number[] = [];

  push(cost: number, vertex: number): void {
    const { costs, vertices } = this;
    let i = costs.length;
    while (i > 0 && costs[(i - 1) >> 1]! > cost) {
      const up = (i - 1) >> 1;
      costs[i] = costs[up]!;
      vertices[i] = vertices[up]!;
      i = up;
    }
    costs[i] = cost;
    vertices[i] = vertex;
  }

  pop(): number | null {
    const { costs, vertices } = this;
    const top = vertices[0];
    if (top === undefined) return null;
    const cost = costs.pop()!;
    const vertex = vertices.pop()!;
    const size = costs.length;
    if (size === 0) return top;
    let i = 0;
    for (;;) {
      let child = i * 2 + 1;
      if (child >= size) break;
      if (child + 1 < size && costs[child + 1]! < costs[child]!) child++;
      if (costs[child]! >= cost) break;
      costs[i] = costs[child]!;
      vertices[i] = vertices[child]!;
      i = child;
    }
    costs[i] = cost;
    vertices[i] = vertex;
    return top;
  }
}
