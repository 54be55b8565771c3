import { nextCorner, type Topology } from '../../mesh';
import type { FlatChart } from '../flatten/flatten';

/** A name for a set of edges. */
export function setKey(edges: readonly number[]): string {
  let [sum, squares, least] = [0, 0, Infinity];
  for (const e of edges) {
    sum += e;
    squares = (squares + e * e) % 2 ** 40;
    least = Math.min(least, e);
  }
  return `${edges.length} ${sum} ${squares} ${least}`;
}

/** At each vertex the given edges that end there. */
function edgesAt({ edges: { ends } }: Topology, edges: readonly number[]): Map<number, number[]> {
  const at = new Map<number, number[]>();
  for (const e of edges) {
    for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) {
      const list = at.get(v);
      if (list) list.push(e);
      else at.set(v, [e]);
    }
  }
  return at;
}

/** Edges that hang together at their ends. @param goesOn whether two that meet in a vertex count as hanging together */
export function runsThatHang(
  topology: Topology,
  edges: readonly number[],
  goesOn: (vertex: number) => boolean,
): number[][] {
  const { ends } = topology.edges;
  const at = edgesAt(topology, edges);
  const seen = new Set<number>();
  return edges.flatMap((first): number[][] => {
    if (seen.has(first)) return [];
    seen.add(first);
    const run = [first];
    for (const e of run) {
      for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) {
        if (!goesOn(v)) continue;
        for (const other of at.get(v)!) {
          if (seen.has(other)) continue;
          seen.add(other);
          run.push(other);
        }
      }
    }
    return [run];
  });
}

/** Edges as they follow one another, if they are a line; as they are if they aren't. */
export function alongLine(topology: Topology, edges: readonly number[]): readonly number[] {
  const { ends } = topology.edges;
  const at = edgesAt(topology, edges);
  const start = [...at].find(([, list]) => list.length === 1);
  if (!start || [...at.values()].some((list) => list.length > 2)) return edges;
  let [v] = start;
  let e: number | undefined = start[1][0];
  const out: number[] = [];
  while (e !== undefined) {
    out.push(e);
    v = ends[e * 2] === v ? ends[e * 2 + 1]! : ends[e * 2]!;
    const last: number = e;
    e = at.get(v)!.find((other) => other !== last);
  }
  return out;
}

/** 1 for each edge along which charts are cut, from one another or within themselves. */
export function cutsOf(
  charts: readonly FlatChart[],
  { across, edges }: Topology,
  seams: Uint8Array,
): Uint8Array {
  const chartOf = new Int32Array(across.length / 3).fill(-1);
  const vertexOf = new Int32Array(across.length).fill(-1);
  charts.forEach(({ chart }, n) =>
    chart.faces.forEach((f, i) => {
      chartOf[f] = n;
      for (let k = 0; k < 3; k++) vertexOf[f * 3 + k] = chart.indices[i * 3 + k]!;
    }),
  );
  const out = seams.slice();
  for (let c = 0; c < across.length; c++) {
    const o = across[c]!;
    const [n, m] = [chartOf[Math.floor(c / 3)]!, o < 0 ? -1 : chartOf[Math.floor(o / 3)]!];
    if (n < 0 || m < 0) continue;
    const isWhole =
      n === m && vertexOf[c] === vertexOf[nextCorner(o)] && vertexOf[nextCorner(c)] === vertexOf[o];
    if (!isWhole) out[edges.ofCorner[c]!] = 1;
  }
  return out;
}
