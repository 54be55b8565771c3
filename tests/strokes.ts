import type { StrokeStyle } from '../core/paint';

/** A plain brush: full colour with a half-soft edge, on any part, on the side that is seen. */
export const PLAIN_STROKE: StrokeStyle = {
  tool: 'brush',
  erase: false,
  color: '#c83c14',
  opacity: 1,
  edge: 0.5,
  spacing: 0.1,
  pressureSize: false,
  pressureOpacity: false,
  nearSide: true,
};

/** A softer one that doesn't cover fully. */
export const SOFT_STROKE: StrokeStyle = { ...PLAIN_STROKE, opacity: 0.8, edge: 0.6 };

/** Samples along a straight line, looking up. */
export function line(
  from: [number, number, number],
  to: [number, number, number],
  radius: number,
  steps = 12,
): number[] {
  const out: number[] = [];
  for (let i = 0; i <= steps; i++) {
    const t = i / steps;
    out.push(
      from[0] + (to[0] - from[0]) * t,
      from[1] + (to[1] - from[1]) * t,
      from[2] + (to[2] - from[2]) * t,
      0,
      1,
      0,
      radius,
      1,
    );
  }
  return out;
}
