import { CoreError } from '../errors';
import { outlineOf, smallestBoxTurn, type FlatIsland } from './outline';
import { islandSpans, PackGrid, type Segments, type Spans } from './pack-grid';

export interface PackOptions {
  /** Texels a side of the sheet. */
  readonly size: number;
  /** Texels between islands; a quarter of it is kept from the edge of the sheet. */
  readonly margin: number;
  /** Islands may be turned; otherwise they are only moved. */
  readonly turn: boolean;
  /** For each island how large it shall be beside the others, as a factor of length; 1 if left out. */
  readonly weights?: readonly number[];
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

/** An outline in one of its turns, beginning at the origin. Units of the surface, weight included. */
interface Turn {
  readonly angle: number;
  readonly segments: Segments;
  readonly width: number;
  readonly height: number;
  /** Where the origin of the unturned island has come to lie. */
  readonly originX: number;
  readonly originY: number;
}

/** Where an island comes to lie: turned, scaled, then moved. Sheets. */
interface Placing {
  readonly turn: Turn;
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

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
  const pinnedArea = pinned.reduce((sum, p) => sum + areaOf(p.points, p.indices), 0);
  const limit = options.largestScale ?? Infinity;
  const most = Math.min(limit, Math.sqrt(Math.max(0, 1 - pinnedArea) / (total || 1)));
  const cells = islands.length <= VERY_FEW ? ROUGH_FOR_FEW : ROUGH;
  let best: (Rung & { plan: Plan }) | undefined;
  const plans = [...plansFor(shapes, options.turn)];
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
  if (!best) return { uvs: [], scale: 1, fill: pinnedArea };
  options.onProgress?.(0.8);
  const { placings, scale } = placeFinely(best, held, limit, options);
  return {
    uvs: islands.map(({ points }, i) => {
      const { turn, ...place } = placings[i]!;
      return placed(points, turn.angle, place, shapes[i]!.weight);
    }),
    scale,
    fill: total * scale ** 2 + pinnedArea,
  };
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
  const plan = { ...rough.plan, turned, made: new Map<number, Spans[][]>() };
  let scale = Math.min(limit, rough.scale * FINE_GAIN);
  for (; scale > rough.scale * 0.9; scale *= 1 - FINE_STEP) {
    const placings = placeAll(plan, held, scale, cells, (margin * cells) / size);
    if (placings) return { placings, scale };
  }
  return rough;
}

function placed(
  points: Float64Array,
  angle: number,
  { scale, x, y }: Omit<Placing, 'turn'>,
  weight: number,
): Float64Array {
  const cos = Math.cos(angle) * scale * weight;
  const sin = Math.sin(angle) * scale * weight;
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 2) {
    out[i] = points[i]! * cos - points[i + 1]! * sin + x;
    out[i + 1] = points[i]! * sin + points[i + 1]! * cos + y;
  }
  return out;
}

function segmentsOf(island: FlatIsland): Segments {
  const outline = outlineOf(island);
  const out = new Float64Array(outline.length * 2);
  for (let i = 0; i < outline.length; i++) {
    out[i * 2] = island.points[outline[i]! * 2]!;
    out[i * 2 + 1] = island.points[outline[i]! * 2 + 1]!;
  }
  return upward(out);
}

/** Exchanges the ends of segments that run downward. */
function upward(segments: Segments): Segments {
  for (let e = 0; e < segments.length; e += 4) {
    const x = segments[e]!;
    const y = segments[e + 1]!;
    if (y <= segments[e + 3]!) continue;
    segments[e] = segments[e + 2]!;
    segments[e + 1] = segments[e + 3]!;
    segments[e + 2] = x;
    segments[e + 3] = y;
  }
  return segments;
}

/** Islands turned and put in order: one way to go about it. */
interface Plan {
  /** The turns of each island. */
  readonly turned: readonly (readonly Turn[])[];
  readonly order: readonly number[];
  /** What was made for the scales that were tried: spans an island and turn. */
  readonly made: Map<number, Spans[][]>;
}

/** Few islands leave large gaps: for them more turns and orders are tried. */
const FEW = 64;
const VERY_FEW = 16;

/** Orders that are tried for very few islands: at the most, and times their number. */
const SHUFFLES = 24;
const SHUFFLED = 128;

/** The same list, neighbours exchanged here and there; always alike for the same number. */
function shuffled(list: readonly number[], number: number): number[] {
  const out = [...list];
  let state = number * 2654435761 + 12345;
  for (let i = 0; i < out.length; i++) {
    // A linear congruential generator (D. E. Knuth, "The Art of Computer Programming", vol. 2, 3.3.4).
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const j = Math.min(out.length - 1, i + ((state >>> 16) % 4));
    [out[i], out[j]] = [out[j]!, out[i]!];
  }
  return out;
}

interface Shape {
  readonly segments: Segments;
  readonly angle: number;
  readonly weight: number;
  readonly area: number;
}

function* plansFor(shapes: readonly Shape[], mayTurn: boolean): Iterable<Plan> {
  const steps = !mayTurn ? [1] : shapes.length <= FEW ? [4, 16] : [4];
  for (const count of steps) {
    const turned = shapes.map(({ segments, angle, weight }) =>
      Array.from({ length: count }, (_, k) =>
        turnOf(segments, angle + (k / count) * 2 * Math.PI, weight),
      ).sort((a, b) => a.height - b.height),
    );
    const height = turned.map((turns) => Math.max(turns[0]!.width, turns[0]!.height));
    const by = (key: (i: number) => number): number[] =>
      shapes.map((_, i) => i).sort((a, b) => key(b) - key(a) || a - b);
    const byArea = by((i) => shapes[i]!.area);
    const plan = { turned, made: new Map<number, Spans[][]>() };
    yield { ...plan, order: byArea };
    yield { ...plan, order: by((i) => height[i]!) };
    if (shapes.length > VERY_FEW || count !== steps.at(-1)) continue;
    const tried = new Set<string>();
    const shuffles = Math.min(SHUFFLES, SHUFFLED / shapes.length);
    for (let n = 0; n < shuffles; n++) {
      const order = shuffled(byArea, n);
      const name = order.join();
      // Two or three islands have few orders.
      if (!tried.has(name)) yield { ...plan, order };
      tried.add(name);
    }
  }
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

function turnOf(segments: Segments, angle: number, weight: number): Turn {
  const out = placed(segments, angle, { scale: 1, x: 0, y: 0 }, weight);
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < out.length; i += 2) {
    minX = Math.min(minX, out[i]!);
    maxX = Math.max(maxX, out[i]!);
    minY = Math.min(minY, out[i + 1]!);
    maxY = Math.max(maxY, out[i + 1]!);
  }
  for (let i = 0; i < out.length; i += 2) {
    out[i]! -= minX;
    out[i + 1]! -= minY;
  }
  return {
    angle,
    segments: upward(out),
    width: maxX - minX,
    height: maxY - minY,
    originX: -minX,
    originY: -minY,
  };
}

function areaOf(points: ArrayLike<number>, indices: Uint32Array): number {
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
  if (!made) plan.made.set(inCells, (made = []));
  const out = new Array<Placing>(plan.turned.length);
  for (const i of plan.order) {
    const turns = plan.turned[i]!;
    const spans = (made[i] ??= []);
    let best: { turn: Turn; x: number; y: number; top: number } | null = null;
    for (let k = 0; k < turns.length; k++) {
      const turn = turns[k]!;
      const width = turn.width * inCells;
      const height = turn.height * inCells;
      // A turn can only win if its top lies lower than the best so far.
      const highest = best ? Math.ceil(best.top - height) - 1 : Infinity;
      if (highest < 0) continue;
      const found = grid.find(
        (spans[k] ??= islandSpans(turn.segments, inCells, reach)),
        width,
        height,
        reach / 4,
        highest,
      );
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
