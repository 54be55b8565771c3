import { rampTable } from '../color';
import { clamp01, smoothstep } from '../math';
import type { LightPlan } from './light-plan';

type Steps = NonNullable<LightPlan['steps']>;

const TABLE = 256;

/**
 * Light in a few tones: its lightness goes in steps, each of one colour.
 *
 * @returns changes a light's r, g, b in place; `part` by its name
 */
export function toneSteps(steps: Steps): (light: Float64Array | number[], part: string) => void {
  const own = new Map(steps.ramps.map(([part, ramp]) => [part, rampTable(ramp, TABLE)]));
  const all = steps.ramp && rampTable(steps.ramp, TABLE);
  return (light, part) => {
    const value = clamp01(0.2126 * light[0]! + 0.7152 * light[1]! + 0.0722 * light[2]!);
    const tone = stepped(value, steps.count, steps.edge);
    const table = own.get(part) ?? all;
    if (table) {
      const at = Math.round(tone * (TABLE - 1)) * 3;
      for (let c = 0; c < 3; c++) light[c] = table[at + c]!;
      return;
    }
    const factor = value > 0 ? tone / value : 0;
    for (let c = 0; c < 3; c++) light[c] = light[c]! * factor;
  };
}

/**
 * A value in tones: 0 in the darkest, 1 in the lightest.
 *
 * @param edge width of a border, in parts of a tone
 */
export function stepped(value: number, count: number, edge: number): number {
  const at = clamp01(value) * count;
  const half = Math.max(edge / 2, 1e-6);
  let tone = 0;
  for (let border = 1; border < count; border++) tone += smoothstep(border - half, border + half, at);
  return tone / (count - 1);
}
