import { type FlatChart } from '../flatten/flatten';
import type { SurfaceSums } from '../segment/surface-sums';
import { type NaturalOptions, NaturalPieces, mostPrice } from './natural-pieces';
import { type Joint } from './joints';

/** One seam that went, or one on either side. */
export interface MergeStep {
  readonly gone: readonly number[];
  /** What each of the new pieces consists of: triangles of the mesh. */
  readonly made: readonly (readonly number[])[];
  /** Strain for each unit of seam cost that went. */
  readonly price: number;
  /** Strain that came of it: squared L² stretch above 1, times area. */
  readonly strain: number;
  /** How many pieces there are fewer. */
  readonly fewer: number;
}

/** What is joined across the plane comes before what costs as much: pieces grow round the middle, not to two halves. */
const ACROSS = 0.5;

const rankOf = ({ price, isAcross }: Joint): number => price * (isAcross ? ACROSS : 1);

/**
 * Takes seams away as long as they are worth it: always those that cost most for the least stretch, so that what is left lies
 * where a seam isn't seen and where the form asks for one (bounded distortion, least seam: M. Li and others, "OptCuts", 2018). Of several seams
 * between two pieces the one that costs least may stay: a tube is opened along the side that nobody sees. What is alike on both sides is joined on
 * both.
 *
 * @param cuts all cuts; those that disappear are taken out
 * @returns what went, in its order
 */
export function mergeNaturally(
  sums: SurfaceSums,
  charts: readonly FlatChart[],
  cuts: Uint8Array,
  options: NaturalOptions,
): MergeStep[] {
  const pieces = new NaturalPieces(sums, cuts, options);
  const ids = charts.map((chart) => pieces.take(chart));
  const { worth } = options;
  const steps: MergeStep[] = [];
  let joints = pieces.jointsOf(ids);
  while (joints.length > 0) {
    joints.sort(
      (p, q) => rankOf(p) - rankOf(q) || p.pieces[0]! - q.pieces[0]! || p.pieces[1]! - q.pieces[1]!,
    );
    const best = joints.shift()!;
    if (!best.result) {
      pieces.evaluate(best);
      options.onProgress?.(pieces.triedPart);
      if (best.result) joints.push(best);
      continue;
    }
    const more = (best.result.strain - pieces.strainOf(best.pieces)) * (best.twins ? 2 : 1);
    if (best.price > mostPrice(best.pieces, worth)) continue;
    const before = pieces.count;
    const joined = pieces.join(best, best.result);
    steps.push({
      gone: joined.gone,
      made: joined.ids.map((id) => [...pieces.get(id).flat.chart.faces]),
      price: best.price,
      strain: more,
      fewer: before - pieces.count,
    });
    joints = joints.filter((p) => [...p.pieces, ...(p.twins ?? [])].every(pieces.has));
    joints.push(...pieces.jointsOf(joined.ids));
  }
  return steps;
}
