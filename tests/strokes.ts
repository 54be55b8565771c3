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
