import { add, cross, length, normalize, scale, sub, valueNoise, type Vec3 } from '../math';
import { at3, cubicAt, hullLength, piecesFor, spanOf, type Cubic } from './bezier';
import type { InkSurface } from './ink-surface';
import { pointCount, spanCount, type InkLine } from './line';

/** A line as it lies on the surface: a chain of straight pieces, each on one triangle. */
export interface Trace {
  /** Places, xyz each. */
  readonly at: Float64Array;
  /** The triangle on which each lies. */
  readonly faces: Int32Array;
  /** How far along the line each lies, model units. */
  readonly along: Float64Array;
  /** How hard the pen pressed there, 0..1. */
  readonly press: Float64Array;
  /** Places that aren't joined to the one before: between them there is no surface. */
  readonly begins: ReadonlySet<number>;
  /** Places that lie beside the one before, without a way there over triangles that hang together. */
  readonly beside: ReadonlySet<number>;
  /** Model units. */
  readonly length: number;
}

/** How far pieces may stray from their curve, and how long they may be, texels. */
const STRAY = 0.1;
const LONGEST = 8;

/** The same where width changes along the way by more than taper and pressure. */
const LONGEST_UNEVEN = 2;

/** What lies so near to the curve is where it goes on, texels. */
const CLOSE = 0.5;

const MOST_PIECES = 20_000;

/** Widths over which a hand that strays comes back. */
const WOBBLE_LENGTH = 9;

interface Loose {
  readonly p: Vec3;
  readonly press: number;
}

/**
 * Lays a line onto the surface: its curves are projected place by place, and between two places it takes the straight way over the
 * triangles, so that it follows every fold.
 *
 * @param texel length of a texel, model units: how finely
 */
export function traceLine(line: InkLine, ground: InkSurface, texel: number): Trace {
  const { style } = line;
  const close = texel * CLOSE;
  const isUneven = style.wobble > 0 || style.nib === 'broken' || style.profile !== null;
  const longest = texel * (isUneven ? LONGEST_UNEVEN : LONGEST);
  const loose = loosePlaces(line, texel * STRAY, longest);
  const stray = style.wobble > 0 ? straying(line, loose) : null;
  const at: number[] = [];
  const faces: number[] = [];
  const press: number[] = [];
  const along: number[] = [];
  const begins = new Set<number>();
  const beside = new Set<number>();
  let way = 0;
  let last: { face: number; at: Vec3 } | null = null;
  const put = (place: { readonly face: number; readonly at: Vec3 }, hard: number): void => {
    if (last && !begins.has(faces.length)) way += length(sub(place.at, last.at));
    at.push(...place.at);
    faces.push(place.face);
    press.push(hard);
    along.push(way);
    last = { face: place.face, at: place.at };
  };
  loose.forEach(({ p, press: hard }, i) => {
    const before = last as { face: number; at: Vec3 } | null;
    let place = before ? ground.onward(before.face, p, close) : ground.nearest(p);
    if (stray) {
      const ahead = sub((loose[i + 1] ?? loose[i]!).p, (loose[i - 1] ?? loose[i]!).p);
      const aside = normalize(cross(ground.normalOf(place.face), ahead));
      place = ground.onward(place.face, add(place.at, scale(aside, stray(i))), close);
    }
    if (before) {
      const apart = length(sub(place.at, before.at));
      if (apart === 0 && i < loose.length - 1) return;
      const up = add(ground.normalOf(before.face), ground.normalOf(place.face));
      const crossed = ground.straightWay(before, place, up);
      const from = press.at(-1)!;
      if (!crossed && apart > 2 * longest) begins.add(faces.length);
      // A short step that finds no way is one over a corner, a crack, or an edge of three triangles: texel by texel.
      else if (!crossed) {
        const count = Math.ceil(apart / texel);
        for (let k = 1; k < count; k++) {
          const t = k / count;
          beside.add(faces.length);
          put(ground.nearest(add(before.at, scale(sub(place.at, before.at), t))), from + (hard - from) * t);
        }
        beside.add(faces.length);
      }
      crossed?.forEach((c) => {
        const t = apart > 0 ? Math.min(1, length(sub(c.at, before.at)) / apart) : 0;
        put(c, from + (hard - from) * t);
      });
    }
    put(place, hard);
  });
  return {
    at: Float64Array.from(at),
    faces: Int32Array.from(faces),
    along: Float64Array.from(along),
    press: Float64Array.from(press),
    begins,
    beside,
    length: way,
  };
}

/** Places along a line as if it hung in space, near enough to one another. */
function loosePlaces(line: InkLine, tolerance: number, longest: number): Loose[] {
  const out: Loose[] = [];
  const count = pointCount(line);
  const along = (cubic: Cubic, from: number, to: number): void => {
    const pieces = Math.min(
      MOST_PIECES,
      Math.max(piecesFor(cubic, tolerance), Math.ceil(hullLength(cubic) / longest)),
    );
    for (let i = 0; i < pieces; i++) {
      const t = i / pieces;
      out.push({ p: cubicAt(cubic, t), press: from + (to - from) * t });
    }
  };
  const far = line.closed ? 0 : line.style.overshoot * line.style.width;
  const first = at3(line.at, 0);
  if (far > 0)
    along(straight(add(first, scale(endWay(line, 0), far)), first), line.press[0]!, line.press[0]!);
  for (let span = 0; span < spanCount(line); span++) {
    along(spanOf(line, span), line.press[span]!, line.press[(span + 1) % count]!);
  }
  const end = line.closed ? 0 : count - 1;
  const [last, hard] = [at3(line.at, end), line.press[end]!];
  if (far > 0) {
    const beyond = add(last, scale(endWay(line, end), far));
    along(straight(last, beyond), hard, hard);
    out.push({ p: beyond, press: hard });
  } else out.push({ p: last, press: hard });
  return out;
}

const straight = (a: Vec3, d: Vec3): Cubic => [
  a,
  add(a, scale(sub(d, a), 1 / 3)),
  add(a, scale(sub(d, a), 2 / 3)),
  d,
];

/** The direction in which a line would run on at one of its ends. */
function endWay(line: InkLine, end: number): Vec3 {
  const handle = at3(end === 0 ? line.ahead : line.back, end);
  const next = sub(at3(line.at, end === 0 ? 1 : end - 1), at3(line.at, end));
  return scale(normalize(length(handle) > 0 ? handle : next), -1);
}

/** By how much a hand strays to the left at each place, model units. */
function straying({ style, closed }: InkLine, loose: readonly Loose[]): (i: number) => number {
  const ways = [0];
  for (let i = 1; i < loose.length; i++) ways.push(ways.at(-1)! + length(sub(loose[i]!.p, loose[i - 1]!.p)));
  const scaleOf = 1 / (WOBBLE_LENGTH * style.width);
  const round = (ways.at(-1)! * scaleOf) / (2 * Math.PI);
  return (i) => {
    const s = ways[i]! * scaleOf;
    // A closed line comes back to where it began.
    const angle = round > 0 ? s / round : 0;
    const [x, y] = closed ? [round * Math.cos(angle), round * Math.sin(angle)] : [s, 0];
    return (valueNoise(x, y, 0.5, style.seed, 2) - 0.5) * 2 * style.wobble * style.width;
  };
}
