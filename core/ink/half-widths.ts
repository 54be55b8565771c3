import { cross, dot, monotoneCurve, normalize, seededRandom, sub, type Vec3 } from '../math';
import type { InkSurface } from './ink-surface';
import { widthAlong, type InkStyle } from './line';
import type { Trace } from './trace';

/** A flat nib is nowhere narrower than this part of its breadth. */
const THINNEST = 0.18;

/** A piece of a broken line and the gap after it are about so many widths long. */
const PERIOD = 18;

const UP: Vec3 = [0, 1, 0];

/** Half the width of a line at each place of its trace, model units. */
export function halfWidths(style: InkStyle, trace: Trace, ground: InkSurface): Float64Array {
  const { along, press, faces, length } = trace;
  const curve = style.profile && monotoneCurve(style.profile);
  const inked = style.nib === 'broken' ? piecesOf(style, length) : null;
  return Float64Array.from(faces, (face, i) => {
    const t = length > 0 ? along[i]! / length : 0;
    let half = (style.width / 2) * widthAlong(style, t, curve) * press[i]!;
    if (style.nib === 'flat') half *= breadth(style.nibTurn, ground.normalOf(face), direction(trace, i));
    if (inked) half *= inked(along[i]!);
    return half;
  });
}

function direction({ at, faces, begins }: Trace, i: number): Vec3 {
  const place = (k: number): Vec3 => [at[k * 3]!, at[k * 3 + 1]!, at[k * 3 + 2]!];
  const before = i > 0 && !begins.has(i) ? i - 1 : i;
  const after = i + 1 < faces.length && !begins.has(i + 1) ? i + 1 : i;
  return normalize(sub(place(after), place(before)));
}

/** How broad a flat nib draws in a direction, in parts of its breadth. @param turn of its broad side from level, radians */
function breadth(turn: number, normal: Vec3, way: Vec3): number {
  const level = normalize(cross(UP, normal), [1, 0, 0]);
  const steep = cross(normal, level);
  const angle = Math.atan2(dot(way, steep), dot(way, level)) - turn;
  return Math.max(THINNEST, Math.abs(Math.sin(angle)));
}

/** A broken line: how much of its width it has so far along, 0..1. */
function piecesOf({ seed, breaks, width }: InkStyle, length: number): (s: number) => number {
  if (breaks <= 0) return () => 1;
  const random = seededRandom(seed);
  const some = (part: number): number => (0.5 + random()) * PERIOD * width * part;
  /** Where pieces begin and end, in order. */
  const ends: number[] = [0];
  for (let s = 0; breaks < 1 && s < length;) {
    s += some(1 - breaks);
    ends.push(s);
    s += some(breaks);
    ends.push(s);
  }
  return (s) => {
    let low = 0;
    let high = ends.length - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (ends[middle]! <= s) low = middle;
      else high = middle;
    }
    if (low % 2 === 1) return 0;
    // Ends run out over one width.
    const inside = Math.min(low === 0 ? Infinity : s - ends[low]!, ends[high]! - s);
    return Math.sqrt(Math.min(1, Math.max(0, inside / width)));
  };
}
