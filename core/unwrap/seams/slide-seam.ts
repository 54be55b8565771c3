import type { Topology } from '../../mesh';
import { cheapestPath, type EdgeFans } from './edge-path';

/** A seam led another way: edges. */
export interface SlidSeam {
  readonly off: readonly number[];
  readonly on: readonly number[];
}

/** What is dragged: the surface, its seams, and the places through which they are held. */
export interface SlideOn {
  readonly topology: Topology;
  readonly fans: EdgeFans;
  readonly costs: Float64Array;
  /** Edges. */
  readonly seams: ReadonlySet<number>;
  /** Welded vertices. */
  readonly points: ReadonlySet<number>;
}

/**
 * Draws a seam over the surface: from where it meets others, or ends, to the next such place it becomes the cheapest way through the place where
 * it is dragged to and through those where it is held. It doesn't cross other seams.
 *
 * @param at the welded vertex of the seam that is dragged
 * @param to where it is dragged to
 * @returns null if there is no seam there, seams meet there, or no way leads there
 */
export function slideSeam(on: SlideOn, at: number, to: number): SlidSeam | null {
  const { topology, fans, costs, seams, points } = on;
  const run = runThrough(on, at);
  if (!run) return null;
  const own = new Set(run.edges);
  const stops = run.vertices.flatMap((v, i) => {
    if (v === at) return [to];
    const isEnd = i === 0 || i === run.vertices.length - 1;
    return isEnd || points.has(v) ? [v] : [];
  });
  const taken = new Set<number>();
  for (const e of seams) {
    if (own.has(e)) continue;
    taken.add(topology.edges.ends[e * 2]!).add(topology.edges.ends[e * 2 + 1]!);
  }
  if (taken.has(to)) return null;
  const found: number[] = [];
  for (let i = 0; i + 1 < stops.length; i++) {
    const [from, next] = [stops[i]!, stops[i + 1]!];
    if (from === next) continue;
    const isFree = (v: number): boolean => v === from || v === next || !taken.has(v);
    const cost = (e: number): number =>
      isFree(topology.edges.ends[e * 2]!) && isFree(topology.edges.ends[e * 2 + 1]!) ? costs[e]! : Infinity;
    const way = cheapestPath(topology, cost, [from], new Set([next]), fans);
    if (way.length === 0) return null;
    for (const e of way) taken.add(topology.edges.ends[e * 2]!).add(topology.edges.ends[e * 2 + 1]!);
    found.push(...way);
  }
  return { off: run.edges, on: found };
}

/** The seam through a vertex, from where seams meet, or end, to the next such place; a ring begins and ends opposite. */
function runThrough(
  { topology: { edges }, fans, seams }: SlideOn,
  at: number,
): { readonly edges: number[]; readonly vertices: number[] } | null {
  const { ends, uses } = edges;
  const around = (v: number): number[] => {
    const out: number[] = [];
    for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++)
      if (seams.has(fans.edge[i]!)) out.push(fans.edge[i]!);
    return out;
  };
  const isOpen = (v: number): boolean => {
    for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++) if (uses[fans.edge[i]!] !== 2) return true;
    return false;
  };
  const here = around(at);
  if (here.length === 0 || here.length > 2) return null;
  const half = (first: number): { edges: number[]; vertices: number[] } => {
    const out = { edges: [] as number[], vertices: [] as number[] };
    let [v, e] = [at, first];
    for (;;) {
      v = ends[e * 2] === v ? ends[e * 2 + 1]! : ends[e * 2]!;
      out.edges.push(e);
      out.vertices.push(v);
      const next = around(v);
      if (v === at || next.length !== 2 || isOpen(v)) return out;
      e = next[0] === e ? next[1]! : next[0]!;
    }
  };
  const one = half(here[0]!);
  if (one.vertices.at(-1) === at) {
    // A ring is held at its far side.
    const middle = Math.floor(one.edges.length / 2);
    const far = one.vertices[middle - 1];
    if (far === undefined || one.edges.length < 3) return null;
    const vertices = [...one.vertices.slice(middle - 1), ...one.vertices.slice(0, middle)];
    return { edges: [...one.edges.slice(middle), ...one.edges.slice(0, middle)], vertices };
  }
  const other = here.length === 2 ? half(here[1]!) : { edges: [], vertices: [] };
  return {
    edges: [...other.edges.toReversed(), ...one.edges],
    vertices: [...other.vertices.toReversed(), at, ...one.vertices],
  };
}
