import { outlineOf, type FlatIsland } from './outline';
import type { Segments, Spans } from './pack-grid';

/** An outline in one of its turns, beginning at the origin. Units of the surface, weight included. */
export interface Turn {
  readonly angle: number;
  /** The same array for all that look alike. */
  readonly segments: Segments;
  readonly width: number;
  readonly height: number;
  /** Where the origin of the unturned island has come to lie. */
  readonly originX: number;
  readonly originY: number;
}

/** How a turned outline is scaled, then moved. Sheets. */
export interface Place {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

/** Islands turned and put in order: one way to go about it. */
export interface Plan {
  /** The turns of each island. */
  readonly turned: readonly (readonly Turn[])[];
  readonly order: readonly number[];
  /** What was made for the scales that were tried: the spans of each outline. */
  readonly made: Map<number, Map<Segments, Spans>>;
}

/** Few islands leave large gaps: for them more turns and orders are tried. */
const FEW = 64;
export const VERY_FEW = 16;

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

/** An island as it is to be packed: `angle` turns its smallest box upright, `area` counts its weight. */
export interface Shape {
  readonly segments: Segments;
  readonly angle: number;
  readonly weight: number;
  readonly area: number;
}

/** Ways to go about it, the plainest first. */
export function* plansFor(
  shapes: readonly Shape[],
  mayTurn: boolean,
  groups?: readonly number[],
): Iterable<Plan> {
  const areas = new Map<number, number>();
  groups?.forEach((g, i) => areas.set(g, (areas.get(g) ?? 0) + shapes[i]!.area));
  // The largest group first, and within it the largest island.
  const byGroup = (order: readonly number[]): number[] =>
    groups
      ? order.toSorted((a, b) => areas.get(groups[b]!)! - areas.get(groups[a]!)! || groups[a]! - groups[b]!)
      : [...order];
  const shared = new SharedOutlines();
  const steps = !mayTurn ? [1] : shapes.length <= FEW ? [4, 16] : [4];
  for (const count of steps) {
    const turned = shapes.map(({ segments, angle, weight }) =>
      Array.from({ length: count }, (_, k) =>
        shared.turn(turnOf(segments, angle + (k / count) * 2 * Math.PI, weight)),
      ).sort((a, b) => a.height - b.height),
    );
    const height = turned.map((turns) => Math.max(turns[0]!.width, turns[0]!.height));
    const by = (key: (i: number) => number): number[] =>
      shapes.map((_, i) => i).sort((a, b) => key(b) - key(a) || a - b);
    const byArea = by((i) => shapes[i]!.area);
    const plan = { turned, made: new Map<number, Map<Segments, Spans>>() };
    yield { ...plan, order: byGroup(byArea) };
    yield { ...plan, order: byGroup(by((i) => height[i]!)) };
    if (groups) continue;
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

/** Gives outlines that are equal the same array, so that what is reckoned of one holds for all: rivets, planks, tiles. */
class SharedOutlines {
  private readonly known = new Map<string, Segments[]>();

  turn(turn: Turn): Turn {
    const { segments, width, height } = turn;
    const key = `${segments.length} ${width} ${height}`;
    const alike = this.known.get(key) ?? [];
    const same = alike.find((other) => other.every((x, i) => x === segments[i]));
    if (!same) this.known.set(key, [...alike, segments]);
    return same ? { ...turn, segments: same } : turn;
  }
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

/** An island's outline. One whose front and back are stacked on the same points has none: all of its edges stand for it. */
export function segmentsOf(island: FlatIsland): Segments {
  const border = outlineOf(island);
  const { indices } = island;
  const outline = border.length
    ? border
    : Array.from(indices, (v, c) => [v, indices[c % 3 === 2 ? c - 2 : c + 1]!]).flat();
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

/** Points after turning, weighing, scaling and moving. */
export function placed(
  points: Float64Array,
  angle: number,
  { scale, x, y }: Place,
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
