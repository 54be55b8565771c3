import { PLAIN_BRUSH, SAMPLE_STRIDE, type BrushShape, type StyleOf } from '../core/paint';

/** A ball around the place where it touches, half soft. */
export const BALL_BRUSH: BrushShape = { ...PLAIN_BRUSH, lies: 'against' };

/** The same without any softness. */
export const HARD: BrushShape = { ...BALL_BRUSH, edge: 0 };

/** A plain brush: full colour with a half-soft edge, on any part, on the side that is seen. */
export const PLAIN_STROKE: StyleOf<'brush'> = {
  tool: 'brush',
  erase: false,
  color: '#c83c14',
  opacity: 1,
  brush: BALL_BRUSH,
  seed: 1,
  up: [0, 0, -1],
  eye: [0, 1, 0],
  nearSide: true,
};

/** A softer one that doesn't cover fully. */
export const SOFT_STROKE: StyleOf<'brush'> = {
  ...PLAIN_STROKE,
  opacity: 0.8,
  brush: { ...BALL_BRUSH, edge: 0.6 },
};

/** One sample: an upright pen. */
export const sampleAt = (
  at: readonly [number, number, number],
  normal: readonly [number, number, number],
  radius: number,
  pressure = 1,
): number[] => [...at, ...normal, radius, pressure, ...new Array<number>(SAMPLE_STRIDE - 8).fill(0)];

/** Samples along a straight line, looking up. */
export function line(
  from: [number, number, number],
  to: [number, number, number],
  radius: number,
  steps = 12,
): number[] {
  return Array.from({ length: steps + 1 }, (_, i) => {
    const t = i / steps;
    const at = [0, 1, 2].map((k) => from[k]! + (to[k]! - from[k]!) * t) as [number, number, number];
    return sampleAt(at, [0, 1, 0], radius);
  }).flat();
}
