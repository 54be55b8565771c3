import { faceGeometry, type Topology } from '../../mesh';
import { type FlatChart } from '../flatten/flatten';
import { measureDistortion } from '../flatten/measures';
import type { MirrorMap } from './mirror-map';

/** Seams of fewer edges go as a whole or not at all. */
export const DIVISIBLE = 8;

/** Runs of a seam that may go by themselves: from either end, and from the middle. */
export function partsOf(edges: readonly number[]): (readonly number[])[] {
  const n = edges.length;
  if (n < DIVISIBLE) return [];
  const [long, short] = [Math.floor(n * 0.66), Math.floor(n * 0.33)];
  return [
    edges.slice(0, long),
    edges.slice(n - long),
    edges.slice(0, short),
    edges.slice(n - short),
    edges.slice(short, long),
  ];
}

/** Runs of a seam that lie alike on both sides of where it crosses the plane. */
export function partsAtMiddle(
  { edges: { ends } }: Topology,
  edges: readonly number[],
  { ofVertex, ofEdge }: MirrorMap,
): (readonly number[])[] {
  const own = new Set(edges);
  if (edges.length < DIVISIBLE || !edges.every((e) => own.has(ofEdge[e]!))) return [];
  const at = new Map<number, number[]>();
  for (const e of edges)
    for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) at.set(v, [...(at.get(v) ?? []), e]);
  return [...at].flatMap(([middle, [first]]) => {
    if (ofVertex[middle] !== middle || ofEdge[first!] === first) return [];
    const both: number[] = [];
    let [v, e]: [number, number | undefined] = [middle, first];
    while (e !== undefined && !both.includes(e)) {
      const last: number = e;
      both.push(last, ofEdge[last]!);
      v = ends[last * 2] === v ? ends[last * 2 + 1]! : ends[last * 2]!;
      e = at.get(v)!.find((other) => other !== last);
    }
    return [0.66, 0.33].map((part) => both.slice(0, 2 * Math.round((part * edges.length) / 2)));
  });
}

/** Squared L² stretch above 1, times area. */
export function strainOf(flat: FlatChart): number {
  const area = faceGeometry(flat.chart).areas.reduce((sum, a) => sum + a, 0);
  return stretchOf(flat, area).strain;
}

export function stretchOf({ chart, flat }: FlatChart, area: number): { strain: number; worst: number } {
  const { stretchL2, stretchLinf } = measureDistortion(chart, flat.uv);
  return { strain: Math.max(0, stretchL2 ** 2 - 1) * area, worst: stretchLinf };
}
