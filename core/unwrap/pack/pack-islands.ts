import { CoreError } from '../../errors';
import { smallestBoxTurn, type FlatIsland } from './outline';
import { islandSpans, PackGrid, type Segments, type Spans } from './pack-grid';
import { placed, plansFor, segmentsOf, VERY_FEW, type Place, type Plan, type Turn } from './pack-plan';

export interface PackOptions {
  /** Texels a side of the sheet. */
  readonly size: number;
  /** Texels between islands; a quarter of it is kept from the edge of the sheet. */
  readonly margin: number;
  /** Islands may be turned; otherwise they are only moved. */
  readonly turn: boolean;
  /** For each island how large it shall be beside the others, as a factor of length; 1 if left out. */
  readonly weights?: readonly number[];
  /** A number for each island: those of one group come one after the other, so that they lie near one another. */
  readonly groups?: readonly number[];
  /** Islands that already have their place: uv in 0..1. They stay, and the others lie round them. */
  readonly pinned?: readonly FlatIsland[];
  /** Not larger than this: sheets a unit of the surface. */
  readonly largestScale?: number;
  /** Told the part done, 0..1, now and then. */
  readonly onProgress?: (done: number) => void;
}

export interface Packed {
  /** uv a point for each island, 0..1. */
  readonly uvs: readonly Float64Array[];
  /** Sheets a unit of the surface, for weight 1. */
  readonly scale: number;
  /** Part of the sheet that islands cover, the pinned ones too. */
  readonly fill: number;
}

/** Cells a side while the scale is searched, and for the last look. */
const ROUGH = 256;
/** The same for very few islands: what fits luckily on a rough grid doesn't on a fine one. */
const ROUGH_FOR_FEW = 512;
const FINE = 1024;

/** Scales that are tried on the rough grid lie on a ladder, each this part smaller than the one before. */
const STEP = 0.01;

/** The rung that is tried first: islands most often fill about 6 tenths. */
const FIRST_RUNG = 26;

/** Rungs above the first one without room that are tried too. */
const LUCK = 4;

/** The same for the last look, and how much more it finds at the most. */
const FINE_STEP = 0.003;
const FINE_GAIN = 1.03;

/** The lowest rung, a thousandth of the largest scale: the margins alone fill the sheet. */
const LAST_RUNG = 690;

/** Where an island comes to lie, and in which turn. */
type Placing = Place & { readonly turn: Turn };

/**
 * Places islands on the sheet at one scale, as large as they fit: the largest first, each as low and then as far left as it goes in
 * any of its quarter turns, also in hollows and holes of those that lie already (the raster form of bottom-left packing;
 * B. Lévy et al., "Least Squares Conformal Maps", 2002, section 4).
 *
 * @throws CoreError `pack-no-room` if they don't fit even when very small
 */
export function packIslands(islands: readonly FlatIsland[], options: PackOptions): Packed {
  const { size, margin, pinned = [] } = options;
  const held = pinned.map(segmentsOf);
  const shapes = islands.map((island, i) => {
    const weight = options.weights?.[i] ?? 1;
    const segments = segmentsOf(island);
    return {
      segments,
      weight,
      angle: options.turn ? smallestBoxTurn(segments) : 0,
      area: areaOf(island.points, island.indices) * weight * weight,
    };
  });
  const total = shapes.reduce((sum, s) => sum + s.area, 0);
  const taken = takenPart(held);
  const limit = options.largestScale ?? Infinity;
  const most = Math.min(limit, Math.sqrt(Math.max(1e-3, 1 - taken) / (total || 1)));
  const cells = islands.length <= VERY_FEW ? ROUGH_FOR_FEW : ROUGH;
  let best: (Rung & { plan: Plan }) | undefined;
  const plans = [...plansFor(shapes, options.turn, options.groups)];
  for (const [n, plan] of plans.entries()) {
    options.onProgress?.((0.8 * n) / plans.length);
    const place = (rung: number): Rung | null => {
      const scale = most * (1 - STEP) ** rung;
      const placings = placeAll(plan, held, scale, cells, (margin * cells) / size);
      return placings && { rung, scale, placings };
    };
    // A plan that has no room one rung above the best one is no better.
    const higher = search(best?.rung ?? null, place);
    if (higher) best = { plan, ...higher };
  }
  if (!best) return { uvs: [], scale: 1, fill: taken };
  options.onProgress?.(0.8);
  const { placings, scale } = placeFinely(best, held, limit, options);
  return {
    uvs: islands.map(({ points }, i) => {
      const { turn, ...place } = placings[i]!;
      return placed(points, turn.angle, place, shapes[i]!.weight);
    }),
    scale,
    fill: total * scale ** 2 + taken,
  };
}

/** The part of the sheet that pinned islands take up; they may lie on one another. */
function takenPart(held: readonly Segments[]): number {
  const grid = new PackGrid(ROUGH, 0);
  for (const segments of held) grid.take(segments, ROUGH, 0, 0);
  return grid.countTaken() / ROUGH ** 2;
}

/** A finer grid wastes less round the islands, so a little more fits. Each keeps the turn that it has got. */
function placeFinely(
  rough: Rung & { plan: Plan },
  held: readonly Segments[],
  limit: number,
  { size, margin }: PackOptions,
): { placings: readonly Placing[]; scale: number } {
  const cells = Math.min(FINE, Math.max(ROUGH, size / 2));
  const turned = rough.placings.map(({ turn }) => [turn]);
  const plan = { ...rough.plan, turned, made: new Map<number, Map<Segments, Spans>>() };
  let scale = Math.min(limit, rough.scale * FINE_GAIN);
  for (; scale > rough.scale * 0.9; scale *= 1 - FINE_STEP) {
    const placings = placeAll(plan, held, scale, cells, (margin * cells) / size);
    if (placings) return { placings, scale };
  }
  return rough;
}

/** A scale at which all have found room. */
interface Rung {
  /** 0 at the largest scale that could be. */
  readonly rung: number;
  readonly scale: number;
  readonly placings: readonly Placing[];
}

/**
 * The highest rung with room: strides that double until both sides are known, then halves.
 *
 * @param known a rung with room, null if none is known
 * @returns null if the rung above the known one has no room
 */
function search(known: number | null, place: (rung: number) => Rung | null): Rung | null {
  let best: Rung | null = null;
  let full = -1;
  let fits = known ?? FIRST_RUNG;
  for (let stride = 1; known === null && !best; stride *= 2) {
    best = place(fits);
    if (best) break;
    full = fits;
    fits += stride;
    if (fits > LAST_RUNG) {
      throw new CoreError(
        'pack-no-room',
        'The islands find no room on the sheet, however small. Take a smaller margin or a larger sheet, or pin fewer islands.',
      );
    }
  }
  for (let stride = 1; fits - full > 1; stride *= 2) {
    const next = full < 0 ? Math.max(0, fits - stride) : (fits + full) >> 1;
    const found = place(next);
    if (found) {
      best = found;
      fits = next;
    } else if (!best) return null;
    else full = next;
  }
  // What has no room on one rung may by luck have it on a higher one.
  for (let next = fits - 2; next >= Math.max(0, fits - LUCK); next--) {
    const found = place(next);
    if (!found) continue;
    best = found;
    fits = next;
  }
  return best;
}

/** Of an island, its units squared. */
export function areaOf(points: ArrayLike<number>, indices: Uint32Array): number {
  let sum = 0;
  for (let c = 0; c < indices.length; c += 3) {
    const a = indices[c]! * 2;
    const b = indices[c + 1]! * 2;
    const d = indices[c + 2]! * 2;
    sum += Math.abs(
      (points[b]! - points[a]!) * (points[d + 1]! - points[a + 1]!) -
        (points[b + 1]! - points[a + 1]!) * (points[d]! - points[a]!),
    );
  }
  return sum / 2;
}

/** @param reach of the margin, cells @returns null if something has no room */
function placeAll(
  plan: Plan,
  held: readonly Segments[],
  scale: number,
  cells: number,
  reach: number,
): Placing[] | null {
  const grid = new PackGrid(cells, Math.ceil(reach));
  for (const segments of held) grid.take(segments, cells, 0, 0);
  const inCells = scale * cells;
  let made = plan.made.get(inCells);
  if (!made) plan.made.set(inCells, (made = new Map()));
  // The sheet only gets fuller: an outline that was looked for before finds nothing below the place that it got then.
  const lowest = new Map<Segments, number>();
  const out = new Array<Placing>(plan.turned.length);
  for (const i of plan.order) {
    let best: { turn: Turn; x: number; y: number; top: number } | null = null;
    for (const turn of plan.turned[i]!) {
      const width = turn.width * inCells;
      const height = turn.height * inCells;
      // A turn can only win if its top lies lower than the best so far.
      const highest = best ? Math.ceil(best.top - height) - 1 : Infinity;
      if (highest < 0) continue;
      let spans = made.get(turn.segments);
      if (!spans) made.set(turn.segments, (spans = islandSpans(turn.segments, inCells, reach)));
      const from = lowest.get(turn.segments) ?? 0;
      const found = grid.find(spans, width, height, reach / 4, { from, to: highest });
      lowest.set(turn.segments, Math.max(from, found ? found.y : highest + 1));
      if (found) best = { turn, ...found, top: found.y + height };
    }
    if (!best) return null;
    const { turn, x, y } = best;
    grid.take(turn.segments, inCells, x, y);
    out[i] = {
      turn,
      scale,
      x: x / cells + turn.originX * scale,
      y: y / cells + turn.originY * scale,
    };
  }
  return out;
}
