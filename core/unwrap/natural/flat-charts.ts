import { CoreError } from '../../errors';
import { faceGeometry } from '../../mesh';
import { type CutChart } from '../segment/chart';
import { flattenChart, type FlatChart, type Flattened } from '../flatten/flatten';
import { measureDistortion } from '../flatten/measures';
import { MOST_STRETCH, WORST_PIECE } from './natural-pieces';

interface MeasuredChart extends FlatChart {
  /** Squared L² stretch above 1, times area. */
  readonly strain: number;
}

/** Flattens each piece once, however often it comes. */
export class Flattener {
  /** Corners of all pieces that were flattened. */
  tried = 0;
  private readonly known = new Map<string, MeasuredChart | null>();
  private readonly bound: number;
  /** Pieces that may be stretched as they are: no seam went to make them. */
  private readonly accepted = new Set<string>();

  constructor(bound: number) {
    this.bound = bound;
  }

  /** @returns null if it won't lie flat */
  flat(chart: CutChart): MeasuredChart | null {
    const key = nameOf(chart);
    let one = this.known.get(key);
    if (one === undefined) this.tried += chart.indices.length;
    if (one === undefined)
      this.known.set(key, (one = tryFlat(chart, this.accepted.has(key) ? Infinity : this.bound)));
    return one;
  }

  accept(chart: CutChart): void {
    const key = nameOf(chart);
    this.accepted.add(key);
    this.known.delete(key);
  }
}

/** Pieces of fewer triangles are tried from several starts. */
const SMALL = 5000;

/** As it was tried when seams went, for as pieces nearly lie over themselves that decides; what won't lie flat so may from another start. */
function flattened(chart: CutChart, isGiven: boolean): Flattened {
  const how = { worst: MOST_STRETCH, parts: 5 };
  if (isGiven) return flattenChart(chart, how);
  if (chart.faces.length > SMALL) return flattenChart(chart, { ...how, oneStart: true });
  const tried = flattenChart(chart, { ...how, tries: true });
  return tried.overlaps ? flattenChart(chart, how) : tried;
}

/**
 * Flattens a piece as it is cut, drawing apart what lies over itself by a little.
 *
 * @param bound of the L² stretch of the whole
 * @returns null if it won't lie flat
 */
export function tryFlat(chart: CutChart, bound: number): MeasuredChart | null {
  try {
    const flat = flattened(chart, bound === Infinity);
    if (flat.overlaps) return null;
    const { stretchL2, stretchLinf } = measureDistortion(chart, flat.uv);
    // A piece that no seam went to make may be stretched more: it could only be divided.
    const isGood =
      bound === Infinity
        ? stretchLinf <= 2 * MOST_STRETCH
        : stretchL2 ** 2 - 1 <= (bound ** 2 - 1) * WORST_PIECE && stretchLinf <= MOST_STRETCH;
    const area = faceGeometry(chart).areas.reduce((sum, a) => sum + a, 0);
    return isGood ? { chart, flat, strain: area * Math.max(0, stretchL2 ** 2 - 1) } : null;
  } catch (error) {
    if (error instanceof CoreError) return null;
    throw error;
  }
}

/** A name for a piece: its triangles, and how they hang together (FNV-1a). */
function nameOf({ faces, indices, positions }: CutChart): string {
  let h = 2166136261;
  for (const list of [faces, indices]) for (const x of list) h = Math.imul(h ^ x, 16777619);
  return `${faces.length} ${positions.length} ${h}`;
}
