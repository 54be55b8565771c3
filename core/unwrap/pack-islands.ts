import { outlineOf, smallestBoxTurn, type FlatIsland } from './outline';
import { islandSpans, PackGrid, type Spans } from './pack-grid';

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

/** A scale that is within this part of the largest that fits is good enough. */
const CLOSE = 0.006;

/** How much more at the most. */
const FINE_GAIN = 1.03;

/** An island's outline: only its points count for packing. */
interface Outlined {
  readonly points: Float64Array;
  /** Two points an edge. */
  readonly edges: Uint32Array;
}

/** An outline in one of its turns, beginning at the origin. */
interface Turn {
  readonly angle: number;
  readonly points: Float64Array;
  /** Where the origin of the unturned island has come to lie. */
  readonly originX: number;
  readonly originY: number;
}

interface Turned {
  readonly edges: Uint32Array;
  readonly turns: readonly Turn[];
}

/** A turn at one scale, in cells. */
interface Scaled {
  readonly turn: Turn;
  readonly points: Float64Array;
  readonly box: { minX: number; minY: number; maxX: number; maxY: number };
  readonly spans: Spans;
}

/** Where an island comes to lie: turned, scaled, then moved. Sheets. */
interface Placing {
  readonly angle: number;
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

/**
 * Places islands on the sheet at one scale, as large as they fit: the largest first, each as low and then as far left as it goes in
 * any of its quarter turns, also in hollows and holes of those that lie already (the raster form of bottom-left packing;
 * B. Lévy et al., "Least Squares Conformal Maps", 2002, section 4).
 */
export function packIslands(islands: readonly FlatIsland[], options: PackOptions): Packed {
  const { size, margin, pinned = [] } = options;
  const held = pinned.map(outlined);
  const shapes = islands.map((island, i) => {
    const weight = options.weights?.[i] ?? 1;
    const shape = outlined(island);
    return {
      ...shape,
      weight,
      angle: options.turn ? smallestBoxTurn(shape.points) : 0,
      area: areaOf(island.points, island.indices) * weight * weight,
    };
  });
  const total = shapes.reduce((sum, s) => sum + s.area, 0);
  const pinnedArea = pinned.reduce((sum, p) => sum + areaOf(p.points, p.indices), 0);
  const limit = options.largestScale ?? Infinity;
  const most = Math.min(limit, Math.sqrt(Math.max(0, 1 - pinnedArea) / (total || 1)));
  const rough = islands.length <= VERY_FEW ? ROUGH_FOR_FEW : ROUGH;
  let scale = 0;
  let chosen: Plan | undefined;
  const plans = [...plansFor(shapes, options.turn)];
  for (const [n, plan] of plans.entries()) {
    options.onProgress?.((0.8 * n) / plans.length);
    const fits = (s: number): boolean => placeAll(plan, held, s, rough, (margin * rough) / size) !== null;
    // A plan that doesn't fit a little larger than the best one is no better.
    if (chosen && !fits(Math.min(most, scale * (1 + CLOSE)))) continue;
    scale = search(scale, most, fits);
    chosen = plan;
  }
  if (!chosen) return { uvs: [], scale: 1, fill: pinnedArea };
  options.onProgress?.(0.8);
  const fine = placeFinely(chosen, held, scale, limit, options);
  return {
    uvs: islands.map(({ points }, i) => placed(points, fine.placings[i]!, shapes[i]!.weight)),
    scale: fine.scale,
    fill: total * fine.scale ** 2 + pinnedArea,
  };
}

/** A finer grid wastes less round the islands, so a little more fits. */
function placeFinely(
  plan: Plan,
  held: readonly Outlined[],
  rough: number,
  limit: number,
  { size, margin }: PackOptions,
): { placings: readonly Placing[]; scale: number } {
  const cells = Math.min(FINE, Math.max(ROUGH, size / 2));
  for (let scale = Math.min(limit, rough * FINE_GAIN); scale > rough * 0.5; scale *= 1 - CLOSE) {
    const placings = placeAll(plan, held, scale, cells, (margin * cells) / size);
    if (placings) return { placings, scale };
  }
  return { placings: placeAll(plan, held, rough, ROUGH, (margin * ROUGH) / size) ?? [], scale: rough };
}

function placed(points: Float64Array, { angle, scale, x, y }: Placing, weight: number): Float64Array {
  const cos = Math.cos(angle) * scale * weight;
  const sin = Math.sin(angle) * scale * weight;
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 2) {
    out[i] = points[i]! * cos - points[i + 1]! * sin + x;
    out[i + 1] = points[i]! * sin + points[i + 1]! * cos + y;
  }
  return out;
}

function outlined(island: FlatIsland): Outlined {
  const outline = outlineOf(island);
  const numbers = new Map<number, number>();
  const points: number[] = [];
  const edges = outline.map((v) => {
    let n = numbers.get(v);
    if (n === undefined) {
      numbers.set(v, (n = numbers.size));
      points.push(island.points[v * 2]!, island.points[v * 2 + 1]!);
    }
    return n;
  });
  return { points: Float64Array.from(points), edges };
}

/** Islands turned and put in order: one way to go about it. */
interface Plan {
  readonly turned: readonly Turned[];
  readonly order: readonly number[];
  /** What was made for the scale that was tried last. */
  readonly made: Map<string, Scaled[][]>;
}

/** Few islands leave large gaps: for them more turns and orders are tried. */
const FEW = 64;
const VERY_FEW = 16;

/** Orders that are tried for very few islands. */
const SHUFFLES = 24;

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

type Shape = Outlined & { readonly angle: number; readonly weight: number; readonly area: number };

function* plansFor(shapes: readonly Shape[], mayTurn: boolean): Iterable<Plan> {
  const steps = !mayTurn ? [1] : shapes.length <= FEW ? [4, 16] : [4];
  for (const count of steps) {
    const turned = shapes.map(({ points, edges, angle, weight }) => ({
      edges,
      turns: Array.from({ length: count }, (_, k) =>
        turnOf(points, angle + (k / count) * 2 * Math.PI, weight),
      ),
    }));
    const height = turned.map(({ turns }) => turns[0]!.points.reduce((a, b) => Math.max(a, b), 0));
    const by = (key: (i: number) => number): number[] =>
      shapes.map((_, i) => i).sort((a, b) => key(b) - key(a) || a - b);
    const byArea = by((i) => shapes[i]!.area);
    const plan = { turned, made: new Map<string, Scaled[][]>() };
    yield { ...plan, order: byArea };
    yield { ...plan, order: by((i) => height[i]!) };
    if (shapes.length > VERY_FEW) continue;
    const tried = new Set<string>();
    for (let n = 0; n < SHUFFLES; n++) {
      const order = shuffled(byArea, n);
      const name = order.join();
      // Two or three islands have few orders.
      if (!tried.has(name)) yield { ...plan, order };
      tried.add(name);
    }
  }
}

/** @param least known to fit, 0 if none is */
function search(least: number, most: number, fits: (scale: number) => boolean): number {
  if (fits(most)) return most;
  let high = most;
  let low = least || most * 0.75;
  while (!least && !fits(low) && low > most * 1e-4) {
    high = low;
    low *= 0.8;
  }
  while (high / low > 1 + CLOSE * 2) {
    const middle = Math.sqrt(low * high);
    if (fits(middle)) low = middle;
    else high = middle;
  }
  return low;
}

function turnOf(points: Float64Array, angle: number, weight: number): Turn {
  const out = placed(points, { angle, scale: 1, x: 0, y: 0 }, weight);
  const { minX, minY } = boxOf(out);
  for (let i = 0; i < out.length; i += 2) {
    out[i]! -= minX;
    out[i + 1]! -= minY;
  }
  return { angle, points: out, originX: -minX, originY: -minY };
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
  held: readonly Outlined[],
  scale: number,
  cells: number,
  reach: number,
): Placing[] | null {
  const grid = new PackGrid(cells);
  for (const { points, edges } of held)
    grid.take(
      points.map((x) => x * cells),
      edges,
    );
  const key = `${scale} ${cells}`;
  let scaled = plan.made.get(key);
  if (!scaled) {
    plan.made.clear();
    plan.made.set(key, (scaled = []));
  }
  const out = new Array<Placing>(plan.turned.length);
  for (const i of plan.order) {
    const { turns, edges } = plan.turned[i]!;
    const made = (scaled[i] ??= []);
    let best: (Scaled & { x: number; y: number; top: number }) | null = null;
    for (let k = 0; k < turns.length; k++) {
      const one = (made[k] ??= scaleTurn(turns[k]!, edges, scale * cells, reach));
      // A turn can only win if its top lies lower than the best so far.
      const highest = best ? Math.ceil(best.top - one.box.maxY) - 1 : Infinity;
      if (highest < 0) continue;
      const found = grid.find(one.spans, one.box, reach / 4, highest);
      if (found) best = { ...one, ...found, top: found.y + one.box.maxY };
    }
    if (!best) return null;
    const { points, turn, x, y } = best;
    grid.take(
      points.map((c, k) => c + (k % 2 ? y : x)),
      edges,
    );
    out[i] = {
      angle: turn.angle,
      scale,
      x: x / cells + turn.originX * scale,
      y: y / cells + turn.originY * scale,
    };
  }
  return out;
}

function scaleTurn(turn: Turn, edges: Uint32Array, scale: number, reach: number): Scaled {
  const points = turn.points.map((x) => x * scale);
  return { turn, points, box: boxOf(points), spans: islandSpans(points, edges, reach) };
}

function boxOf(points: Float64Array): { minX: number; minY: number; maxX: number; maxY: number } {
  const box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };
  for (let i = 0; i < points.length; i += 2) {
    box.minX = Math.min(box.minX, points[i]!);
    box.maxX = Math.max(box.maxX, points[i]!);
    box.minY = Math.min(box.minY, points[i + 1]!);
    box.maxY = Math.max(box.maxY, points[i + 1]!);
  }
  return box;
}
