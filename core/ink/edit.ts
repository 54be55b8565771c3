import { add, dot, length, normalize, scale, sub, type Vec3 } from '../math';
import { at3, cubicSplit, spanOf } from './bezier';
import type { InkSurface } from './ink-surface';
import { pointCount, spanCount, type InkLine } from './line';

/** What lies where along a line, without its style: what edits change. */
type Points = Pick<InkLine, 'at' | 'ahead' | 'back' | 'press' | 'closed'>;

const put3 = (list: readonly number[], i: number, v: Vec3): number[] => list.toSpliced(i * 3, 3, ...v);
const without3 = (list: readonly number[], i: number): number[] => list.toSpliced(i * 3, 3);
const zero: Vec3 = [0, 0, 0];

/** With a point elsewhere; its handles go with it. */
export const movePoint = <L extends Points>(line: L, i: number, to: Vec3): L => ({
  ...line,
  at: put3(line.at, i, to),
});

/**
 * With a handle's end elsewhere.
 *
 * @param free the handle on the other side stays as it is; else it turns with it, so that the line has no corner
 */
export function moveHandle<L extends Points>(
  line: L,
  i: number,
  side: 'ahead' | 'back',
  to: Vec3,
  free = false,
): L {
  const handle = sub(to, at3(line.at, i));
  const moved = { ...line, [side]: put3(line[side], i, handle) };
  if (free) return moved;
  const other = side === 'ahead' ? 'back' : 'ahead';
  const before = at3(line[other], i);
  const turned = length(handle) > 0 ? scale(normalize(handle), -length(before)) : before;
  return { ...moved, [other]: put3(line[other], i, turned) };
}

/** With a point more on a span, where the line has the same form. @param t 0..1 */
export function insertPoint<L extends Points>(line: L, span: number, t: number): L {
  const count = pointCount(line);
  const next = (span + 1) % count;
  const [left, right] = cubicSplit(spanOf(line, span), t);
  const [a, ab, ac, middle] = left;
  const [, cb, cc, d] = right;
  const ahead = put3(line.ahead, span, sub(ab, a));
  const back = put3(line.back, next, sub(cc, d));
  const press = line.press[span]! + (line.press[next]! - line.press[span]!) * t;
  const put = (list: readonly number[], v: Vec3): number[] => list.toSpliced((span + 1) * 3, 0, ...v);
  return {
    ...line,
    at: put(line.at, middle),
    ahead: put(ahead, sub(cb, middle)),
    back: put(back, sub(ac, middle)),
    press: line.press.toSpliced(span + 1, 0, press),
  };
}

/** Without a point; null if too few would be left. */
export function removePoint<L extends Points>(line: L, i: number): L | null {
  const left = pointCount(line) - 1;
  if (left < 2) return null;
  const open = line.closed && left < 3;
  return {
    ...line,
    at: without3(line.at, i),
    ahead: without3(line.ahead, i),
    back: without3(line.back, i),
    press: line.press.toSpliced(i, 1),
    closed: open ? false : line.closed,
  };
}

/** Its points from `from` to `to`, both among them. */
function pointsBetween<L extends Points>(line: L, from: number, to: number): L {
  const cut = (list: readonly number[]): number[] => list.slice(from * 3, (to + 1) * 3);
  return {
    ...line,
    at: cut(line.at),
    ahead: cut(line.ahead),
    back: cut(line.back),
    press: line.press.slice(from, to + 1),
    closed: false,
  };
}

/** A line in two at a point; a closed one is opened there. One part only at an end. */
export function splitLine<L extends Points>(line: L, i: number): readonly L[] {
  const count = pointCount(line);
  if (line.closed) {
    const turn = <T>(list: readonly T[], by: number): T[] => [...list.slice(by), ...list.slice(0, by)];
    const opened = {
      ...line,
      at: turn(line.at, i * 3),
      ahead: turn(line.ahead, i * 3),
      back: turn(line.back, i * 3),
      press: turn(line.press, i),
    };
    return [
      {
        ...opened,
        at: [...opened.at, ...at3(opened.at, 0)],
        ahead: [...opened.ahead, ...zero],
        back: [...opened.back, ...at3(opened.back, 0)],
        press: [...opened.press, opened.press[0]!],
        closed: false,
      },
    ];
  }
  if (i <= 0 || i >= count - 1) return [line];
  return [pointsBetween(line, 0, i), pointsBetween(line, i, count - 1)];
}

/** The same line drawn the other way. */
export function reverseLine<L extends Points>(line: L): L {
  const turn = (list: readonly number[]): number[] =>
    Array.from({ length: list.length / 3 }, (_, i) => at3(list, list.length / 3 - 1 - i)).flat();
  return {
    ...line,
    at: turn(line.at),
    ahead: turn(line.back),
    back: turn(line.ahead),
    press: line.press.toReversed(),
  };
}

/** Ends that lie nearer to each other than this part of the shorter line become one point. */
const TOUCH = 0.02;

/**
 * Two lines as one, joined where their ends are nearest to each other: where these touch, in one point; else by a piece more. It is drawn as
 * the first.
 */
export function joinLines<L extends Points>(first: L, second: L): L {
  const ends = (line: L): readonly [Vec3, Vec3] => [at3(line.at, 0), at3(line.at, pointCount(line) - 1)];
  const [a, b] = [ends(first), ends(second)];
  const ways = [0, 1].flatMap((i) => [0, 1].map((j) => ({ i, j, far: length(sub(a[i]!, b[j]!)) })));
  const { i, j, far } = ways.reduce((least, way) => (way.far < least.far ? way : least));
  // The first ends where the second begins.
  const head = i === 1 ? first : reverseLine(first);
  const tail = j === 0 ? second : reverseLine(second);
  const count = pointCount(head);
  const shorter = Math.min(looseLength(head), looseLength(tail));
  if (far <= shorter * TOUCH) {
    const rest = pointsBetween(tail, 1, pointCount(tail) - 1);
    return {
      ...head,
      at: [...head.at, ...rest.at],
      ahead: [...put3(head.ahead, count - 1, at3(tail.ahead, 0)), ...rest.ahead],
      back: [...head.back, ...rest.back],
      press: [...head.press, ...rest.press],
      closed: false,
    };
  }
  // The piece between goes on as both lines went.
  const bridge = far / 3;
  const on = scale(normalize(outward(head, count - 1)), bridge);
  const from = scale(normalize(outward(tail, 0)), bridge);
  return {
    ...head,
    at: [...head.at, ...tail.at],
    ahead: [...put3(head.ahead, count - 1, on), ...tail.ahead],
    back: [...head.back, ...put3(tail.back, 0, from)],
    press: [...head.press, ...tail.press],
    closed: false,
  };
}

/** Where a line would go on to at one of its ends. */
function outward(line: Points, end: number): Vec3 {
  const handle = at3(end === 0 ? line.ahead : line.back, end);
  const next = sub(at3(line.at, end === 0 ? 1 : end - 1), at3(line.at, end));
  return scale(length(handle) > 0 ? handle : next, -1);
}

const looseLength = (line: Points): number => {
  let sum = 0;
  for (let i = 0; i < spanCount(line); i++) {
    sum += length(sub(at3(line.at, (i + 1) % pointCount(line)), at3(line.at, i)));
  }
  return sum;
};

/** Goes on from its last point to its first, or doesn't any more. */
export function closeLine<L extends Points>(line: L, closed: boolean): L {
  if (closed === line.closed || (closed && pointCount(line) < 3)) return line;
  if (!closed) return { ...line, closed };
  const count = pointCount(line);
  const [first, last] = [at3(line.at, 0), at3(line.at, count - 1)];
  const open = { ...line, closed };
  // A last point on the first is the first.
  if (count > 3 && length(sub(first, last)) <= looseLength(line) * TOUCH) {
    const shut = pointsBetween(line, 0, count - 2);
    return { ...shut, back: put3(shut.back, 0, at3(line.back, count - 1)), closed };
  }
  const third = length(sub(first, last)) / 3;
  const ahead = put3(open.ahead, count - 1, scale(normalize(outward(line, count - 1)), third));
  return { ...open, ahead, back: put3(open.back, 0, scale(normalize(outward(line, 0)), third)) };
}

/** With handles that make it as smooth as its points allow (E. Catmull and R. Rom 1974, by the ways between points). */
export function smoothHandles<L extends Points>(line: L, only: (i: number) => boolean = () => true): L {
  const count = pointCount(line);
  let next: L = line;
  for (let i = 0; i < count; i++) {
    if (!only(i)) continue;
    const at = at3(line.at, i);
    const before = line.closed || i > 0 ? at3(line.at, (i + count - 1) % count) : null;
    const after = line.closed || i < count - 1 ? at3(line.at, (i + 1) % count) : null;
    const ahead = after ? sub(after, at) : zero;
    const behind = before ? sub(before, at) : zero;
    const way = before && after ? normalize(sub(after, before), normalize(ahead)) : null;
    next = {
      ...next,
      ahead: put3(next.ahead, i, way ? scale(way, length(ahead) / 3) : scale(ahead, 1 / 3)),
      back: put3(next.back, i, way ? scale(way, -length(behind) / 3) : scale(behind, 1 / 3)),
    };
  }
  return next;
}

/** Smoother: each inner point goes toward the middle of its neighbours, and all handles follow. @param by 0..1 */
export function smoothLine<L extends Points>(line: L, by: number, ground: InkSurface | null = null): L {
  const count = pointCount(line);
  const at = Array.from({ length: count }, (_, i) => {
    const here = at3(line.at, i);
    if (!line.closed && (i === 0 || i === count - 1)) return here;
    const [before, after] = [at3(line.at, (i + count - 1) % count), at3(line.at, (i + 1) % count)];
    const middle = scale(add(before, after), 0.5);
    return add(here, scale(sub(middle, here), by));
  });
  const onto = ground ? at.map((p) => ground.nearest(p).at) : at;
  return smoothHandles({ ...line, at: onto.flat() });
}

/** A line elsewhere. @param move where each place of it comes to; @param times how many times longer lengths become */
export function followLine<L extends Points & Pick<InkLine, 'style'>>(
  line: L,
  move: (at: Vec3) => Vec3,
  times: number,
): L {
  const points = Array.from({ length: pointCount(line) }, (_, i) => at3(line.at, i));
  const moved = points.map(move);
  const handles = (list: readonly number[]): number[] =>
    points.flatMap((at, i) => [...sub(move(add(at, at3(list, i))), moved[i]!)]);
  return {
    ...line,
    at: moved.flat(),
    ahead: handles(line.ahead),
    back: handles(line.back),
    style: { ...line.style, width: line.style.width * times },
  };
}

/** A line whose points lie on the surface again, each where that is nearest. */
export const ontoGround = <L extends Points>(line: L, ground: InkSurface): L => ({
  ...line,
  at: Array.from({ length: pointCount(line) }, (_, i) => ground.nearest(at3(line.at, i)).at).flat(),
});

/**
 * A line carried over the surface from one place to another: turned as the surface turns between them, then laid onto it.
 *
 * @param from, to places on the surface, with the way it faces there
 */
export function carryLine<L extends Points>(
  line: L,
  from: { readonly at: Vec3; readonly normal: Vec3 },
  to: { readonly at: Vec3; readonly normal: Vec3 },
  ground: InkSurface | null,
): L {
  const turn = turnBetween(normalize(from.normal), normalize(to.normal));
  const all = (list: readonly number[], move: (v: Vec3) => Vec3): number[] =>
    Array.from({ length: list.length / 3 }, (_, i) => move(at3(list, i))).flat();
  const moved = {
    ...line,
    at: all(line.at, (p) => add(to.at, turn(sub(p, from.at)))),
    ahead: all(line.ahead, turn),
    back: all(line.back, turn),
  };
  return ground ? ontoGround(moved, ground) : moved;
}

/** The shortest turn that takes one direction to another (O. Rodrigues 1840). */
function turnBetween(a: Vec3, b: Vec3): (v: Vec3) => Vec3 {
  const axis: Vec3 = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const c = dot(a, b);
  if (c < -0.999) return (v) => v;
  const k = 1 / (1 + c);
  return (v) => {
    const over: Vec3 = [
      axis[1] * v[2] - axis[2] * v[1],
      axis[2] * v[0] - axis[0] * v[2],
      axis[0] * v[1] - axis[1] * v[0],
    ];
    return add(add(scale(v, c), over), scale(axis, dot(axis, v) * k));
  };
}
