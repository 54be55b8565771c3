import { clamp01, monotoneCurve } from '../math';
import type { DriveCurve } from './brush';

/** A curve's values at even steps from 0 to 1: reading one is cheap. */
export type CurveTable = Float64Array;

const STEPS = 128;

export function curveTable(points: DriveCurve): CurveTable {
  const curve = monotoneCurve(points);
  return Float64Array.from({ length: STEPS + 1 }, (_, i) => clamp01(curve(i / STEPS)));
}

/** @param x 0..1 */
export function readCurve(table: CurveTable, x: number): number {
  const at = clamp01(x) * STEPS;
  const i = Math.min(STEPS - 1, Math.floor(at));
  return table[i]! + (table[i + 1]! - table[i]!) * (at - i);
}
