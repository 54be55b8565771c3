import type { Mesh, Topology } from '../../mesh';
import { CoreError } from '../../errors';
import { cutIntoCharts, shapeOf, type CutChart } from './chart';
import { flattenChart, type FlatChart, type FlattenOptions, type Flattened } from '../flatten/flatten';
import { mergeCharts } from './merge-charts';
import { openRing } from '../natural/open-ring';
import { LARGEST_PART, segmentSurface } from './segment';
import { surfaceSums, type SurfaceSums } from './surface-sums';

export interface AutoOptions {
  /**
   * Stretch that may be left, mean over the surface: squared L² stretch less one. Null divides only what can't be flattened along
   * the given seams alone.
   */
  readonly stretch: number | null;
  /** 1 for each edge that must be a seam. */
  readonly seams?: Uint8Array;
  readonly faces?: Iterable<number>;
  readonly onProgress?: (done: number) => void;
}

/** A chart whose energy (4 at best) is above this is divided once more. */
const ENERGY_LIMIT = 4.6;

/** How charts are flattened for a whole model. Relaxing three times as far leaves 5e-5 less of L² stretch and takes a third longer. */
const AUTO_FLATTEN = { givesUp: true, tolerance: 3e-3 } as const;

/**
 * The first division takes this part of the stretch that is allowed, as far as sums foretell it; joining pieces again by measure
 * takes the rest. Of a large model few unions can be tried, so that its first division takes more.
 */
const fineStart = (faces: number): number => 0.7 + 0.5 * Math.min(1, Math.max(0, faces - 16_000) / 32_000);

/** Parts of the work that are done when the surface is divided, and when its pieces are flat. */
const SEGMENTED = 0.4;
const FLATTENED = 0.8;

/** How a piece is divided that can't be flattened along given seams. */
const REPAIR = 0.01;

/** Divisions one after the other until a chart is left as it is. */
const DEEPEST = 6;

/**
 * Divides a surface, flattens the pieces, and divides again those that are stretched too far, lie over themselves, or can't be
 * flattened. Pieces in the form of a ring are opened along the shortest way across.
 */
export function autoCharts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  { stretch: target, seams, faces, onProgress }: AutoOptions,
): FlatChart[] {
  const stretch = (target ?? REPAIR) * fineStart(mesh.indices.length / 3);
  // All cuts made so far; a chart is always cut out by all of them.
  const cuts = seams?.slice() ?? new Uint8Array(topology.edges.uses.length);
  const surface = surfaceSums(mesh, topology);
  const chosen = faces && Uint32Array.from(new Set(faces)).sort();
  if (target !== null) {
    mark(
      cuts,
      segmentSurface(surface, {
        stretch,
        largest: LARGEST_PART,
        seams: cuts,
        ...(chosen ? { faces: chosen } : {}),
        onProgress: (done) => onProgress?.(SEGMENTED * done),
      }),
    );
  }
  onProgress?.(SEGMENTED);
  const out: FlatChart[] = [];
  const pending = cutIntoCharts(mesh, topology, cuts, chosen).map((chart) => ({ chart, stretch, depth: 0 }));
  const total = pending.reduce((n, { chart }) => n + chart.faces.length, 0);
  let finished = 0;
  while (pending.length) {
    const { chart, stretch: limit, depth } = pending.pop()!;
    const flat = tryFlatten(chart, target === null ? {} : AUTO_FLATTEN);
    const isGood = flat && !flat.overlaps && (target === null || flat.energy <= ENERGY_LIMIT);
    if (isGood || chart.faces.length === 1 || (depth >= DEEPEST && flat && !flat.overlaps)) {
      if (flat) out.push({ chart, flat });
      finished += chart.faces.length;
      onProgress?.(SEGMENTED + ((FLATTENED - SEGMENTED) * finished) / total);
      continue;
    }
    divide(surface, chart, cuts, limit / 2);
    for (const piece of cutIntoCharts(mesh, topology, cuts, chart.faces)) {
      pending.push({ chart: piece, stretch: limit / 2, depth: depth + 1 });
    }
  }
  const merged =
    target === null
      ? out
      : mergeCharts(surface, out, cuts, {
          fixed: seams,
          target,
          flatten: AUTO_FLATTEN,
          onProgress: (done) => onProgress?.(FLATTENED + (1 - FLATTENED) * done),
        });
  // In the order of their first triangles, whatever the order of the work was.
  return merged.sort((a, b) => a.chart.faces[0]! - b.chart.faces[0]!);
}

function tryFlatten(chart: CutChart, options: FlattenOptions): Flattened | null {
  try {
    return flattenChart(chart, options);
  } catch (error) {
    if (error instanceof CoreError) return null;
    throw error;
  }
}

/** Adds the cuts that divide a chart, or open it, to `cuts`. */
function divide(surface: SurfaceSums, chart: CutChart, cuts: Uint8Array, stretch: number): void {
  const { mesh, topology } = surface;
  const { loops } = shapeOf(chart);
  if (loops.length > 1 && openRing(mesh, topology, chart, loops, cuts)) return;
  const borders = segmentSurface(surface, { stretch, largest: 1, seams: cuts, faces: chart.faces });
  if (mark(cuts, borders) > 0) return;
  // The sums see nothing wrong with it: it is halved.
  const half = new Set(chart.faces.subarray(0, chart.faces.length >> 1));
  for (const f of half) {
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const o = topology.across[c]!;
      if (o >= 0 && !half.has(Math.floor(o / 3))) cuts[topology.edges.ofCorner[c]!] = 1;
    }
  }
}

/** @returns how many edges were new */
function mark(cuts: Uint8Array, more: Uint8Array): number {
  let fresh = 0;
  more.forEach((x, e) => {
    if (!x || cuts[e]) return;
    cuts[e] = 1;
    fresh++;
  });
  return fresh;
}
