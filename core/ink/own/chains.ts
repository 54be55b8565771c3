import { dot, length, normalize, sub, type Vec3 } from '../../math';

/** A line through places, the first not repeated at the end of a closed one. */
export interface Chain {
  readonly points: readonly Vec3[];
  readonly closed: boolean;
  /** What was told of each piece, in order: `points[i]` to the next. */
  readonly pieces: readonly number[];
}

/** A piece of a line: two places by their numbers. */
export type Piece = readonly [from: number, to: number];

/**
 * Joins pieces that share places into lines. Where more than two meet, those go on that are straightest; no line goes on over a corner.
 *
 * @param corner the cosine between two pieces below which they don't go on
 */
export function chainsOf(pieces: readonly Piece[], placeOf: (place: number) => Vec3, corner = 0.5): Chain[] {
  const at = new Map<number, number[]>();
  pieces.forEach(([a, b], i) => {
    for (const end of a === b ? [] : [a, b]) {
      const list = at.get(end);
      if (list) list.push(i);
      else at.set(end, [i]);
    }
  });
  /** What goes on from a piece at its first and at its second place. */
  const next = pieces.map((): [number, number] => [-1, -1]);
  for (const [place, list] of at) {
    const here = placeOf(place);
    const ways = list.map((i) => {
      const [a, b] = pieces[i]!;
      return normalize(sub(placeOf(a === place ? b : a), here));
    });
    const pairs: [straight: number, i: number, j: number][] = [];
    for (let i = 0; i < list.length; i++)
      for (let j = i + 1; j < list.length; j++) pairs.push([-dot(ways[i]!, ways[j]!), i, j]);
    pairs.sort((p, q) => q[0] - p[0]);
    const taken = new Set<number>();
    for (const [straight, i, j] of pairs) {
      if (straight < corner || taken.has(i) || taken.has(j)) continue;
      taken.add(i).add(j);
      for (const [from, to] of [
        [list[i]!, list[j]!],
        [list[j]!, list[i]!],
      ] as const)
        next[from]![pieces[from]![0] === place ? 0 : 1] = to;
    }
  }
  const seen = new Uint8Array(pieces.length);
  const out: Chain[] = [];
  /** Follows a line from a piece through one of its ends. */
  const follow = (first: number, through: 0 | 1): { places: number[]; pieces: number[]; closed: boolean } => {
    const places: number[] = [];
    const own: number[] = [];
    let [piece, side] = [first, through];
    for (;;) {
      const place = pieces[piece]![side];
      places.push(place);
      const on = next[piece]![side];
      if (on < 0) return { places, pieces: own, closed: false };
      if (on === first) return { places, pieces: own, closed: true };
      if (seen[on]) return { places, pieces: own, closed: false };
      seen[on] = 1;
      own.push(on);
      side = pieces[on]![0] === place ? 1 : 0;
      piece = on;
    }
  };
  for (let i = 0; i < pieces.length; i++) {
    if (seen[i] || pieces[i]![0] === pieces[i]![1]) continue;
    seen[i] = 1;
    const ahead = follow(i, 1);
    if (ahead.closed) {
      out.push({
        points: [pieces[i]![0], ...ahead.places.slice(0, -1)].map(placeOf),
        closed: true,
        pieces: [i, ...ahead.pieces],
      });
      continue;
    }
    const back = follow(i, 0);
    out.push({
      points: [...back.places.toReversed(), ...ahead.places].map(placeOf),
      closed: false,
      pieces: [...back.pieces.toReversed(), i, ...ahead.pieces],
    });
  }
  return out;
}

/** Model units. */
export function chainLength({ points, closed }: Chain): number {
  let sum = closed ? length(sub(points[0]!, points.at(-1)!)) : 0;
  for (let i = 1; i < points.length; i++) sum += length(sub(points[i]!, points[i - 1]!));
  return sum;
}

/** The parts of a chain whose pieces pass; one piece among others that don't, or do, goes with these. */
export function partsOfChain(chain: Chain, passes: (piece: number) => boolean): Chain[] {
  const count = chain.pieces.length;
  const raw = chain.pieces.map(passes);
  const at = (i: number): boolean =>
    chain.closed ? raw[(i + count) % count]! : (raw[i] ?? raw[Math.min(count - 1, Math.max(0, i))]!);
  const is = raw.map((_, i) => Number(at(i - 1)) + Number(at(i)) + Number(at(i + 1)) >= 2);
  if (is.every(Boolean)) return [chain];
  const out: Chain[] = [];
  // A closed one begins where something doesn't pass.
  const from = chain.closed ? is.findIndex((v) => !v) : 0;
  let points: Vec3[] = [];
  let pieces: number[] = [];
  const end = (): void => {
    if (pieces.length) out.push({ points, closed: false, pieces });
    points = [];
    pieces = [];
  };
  for (let k = 0; k < count; k++) {
    const i = (from + k) % count;
    if (!is[i]) {
      end();
      continue;
    }
    if (points.length === 0) points.push(chain.points[i]!);
    points.push(chain.points[(i + 1) % chain.points.length]!);
    pieces.push(chain.pieces[i]!);
  }
  end();
  return out;
}
