import type { MotionChannel } from './motion';

/** Below this sine two rotations are so alike that the straight way between them is the round one, to the last bit of a 32-bit float. */
const STRAIGHT = 1e-6;

/**
 * What a channel says at a time, as glTF 2.0 has it (appendix C): held before its first and after its last key; rotations go the short
 * way round.
 *
 * @param seconds in the clip
 * @returns as many numbers as its path has
 */
export function sampleChannel({ times, values, how, path }: MotionChannel, seconds: number): number[] {
  const keys = times.length;
  const cubic = how === 'CUBICSPLINE';
  const stride = values.length / keys / (cubic ? 3 : 1);
  const at = (key: number, part = 1): number[] => {
    const first = cubic ? (key * 3 + part) * stride : key * stride;
    return [...values.subarray(first, first + stride)];
  };
  let next = 0;
  while (next < keys && times[next]! <= seconds) next++;
  const round = (value: number[]): number[] => (path === 'rotation' ? unit(value) : value);
  if (next === 0) return round(at(0));
  if (next === keys || how === 'STEP') return round(at(next - 1));
  const span = times[next]! - times[next - 1]!;
  const t = (seconds - times[next - 1]!) / span;
  const [from, to] = [at(next - 1), at(next)];
  if (cubic) {
    const [out, into] = [at(next - 1, 2), at(next, 0)];
    const [t2, t3] = [t * t, t * t * t];
    return round(
      from.map(
        (x, k) =>
          (2 * t3 - 3 * t2 + 1) * x +
          span * (t3 - 2 * t2 + t) * out[k]! +
          (3 * t2 - 2 * t3) * to[k]! +
          span * (t3 - t2) * into[k]!,
      ),
    );
  }
  return path === 'rotation' ? turnedBetween(from, to, t) : from.map((x, k) => x + (to[k]! - x) * t);
}

function unit(q: number[]): number[] {
  const length = Math.hypot(...q);
  return length > 0 ? q.map((x) => x / length) : [0, 0, 0, 1];
}

/** Spherical, the short way. */
function turnedBetween(a: readonly number[], b: readonly number[], t: number): number[] {
  const cos = a.reduce((sum, x, k) => sum + x * b[k]!, 0);
  const sign = cos < 0 ? -1 : 1;
  const angle = Math.acos(Math.min(1, Math.abs(cos)));
  const sin = Math.sin(angle);
  const [p, q] = sin < STRAIGHT ? [1 - t, t] : [Math.sin((1 - t) * angle) / sin, Math.sin(t * angle) / sin];
  return unit(a.map((x, k) => x * p + b[k]! * q * sign));
}
