import { z } from 'zod';
import { hexColor, hexToRgb } from '../color';
import { normalize } from '../math';

const strength = z.number().min(0).max(2);

/** The project's lights. Colours and sums are sRGB-encoded, as the layers blend; 0.5 grey leaves a soft-light layer's ground as it is. */
export const lightPlan = z.strictObject({
  key: z.strictObject({
    /** Toward the light, model space; any length but 0. */
    direction: z.tuple([z.number(), z.number(), z.number()]),
    color: hexColor,
    strength,
    /** 0: the light ends where the surface turns away (Lambert); 1: it reaches round to the back. */
    wrap: z.number().min(0).max(1),
  }),
  sky: z.strictObject({ color: hexColor, strength }),
  ground: z.strictObject({ color: hexColor, strength }),
});

export type LightPlan = z.infer<typeof lightPlan>;

export const DEFAULT_LIGHT_PLAN: LightPlan = {
  key: { direction: [-0.5, 0.75, 0.6], color: '#fff0d2', strength: 0.55, wrap: 0.35 },
  sky: { color: '#b9c8e6', strength: 0.5 },
  ground: { color: '#6a4a72', strength: 0.42 },
};

/** A light plan ready to be evaluated: unit direction, channels 0..1 times strength. */
export interface PreparedLight {
  readonly direction: readonly [number, number, number];
  readonly wrap: number;
  readonly key: readonly [number, number, number];
  readonly sky: readonly [number, number, number];
  readonly ground: readonly [number, number, number];
}

/** A plan as the evaluation wants it: colours times strength, 0..1, sRGB-encoded as layers blend. */
export function prepareLight(plan: LightPlan): PreparedLight {
  const channels = ({ color, strength: k }: { color: string; strength: number }) => {
    const { r, g, b } = hexToRgb(color);
    return [(r / 255) * k, (g / 255) * k, (b / 255) * k] as const;
  };
  return {
    direction: normalize(plan.key.direction),
    wrap: plan.key.wrap,
    key: channels(plan.key),
    sky: channels(plan.sky),
    ground: channels(plan.ground),
  };
}

/**
 * Light that reaches a surface: wrapped Lambert key plus a hemisphere of sky and ground.
 * The sky's part of a plane tilted by t is (1 + cos t) / 2 (Liu and Jordan 1963).
 *
 * @param nx, ny, nz unit normal
 * @param out receives r, g, b, sRGB-encoded, as whole numbers 0..`whole`
 * @param at where in `out`
 * @param whole the number that stands for 1
 */
export function lightAt(
  light: PreparedLight,
  nx: number,
  ny: number,
  nz: number,
  out: Uint16Array | number[],
  at: number,
  whole = 255,
): void {
  const { direction: d, wrap, key, sky, ground } = light;
  const cos = nx * d[0] + ny * d[1] + nz * d[2];
  const lit = Math.max(0, (cos + wrap) / (1 + wrap));
  const up = (1 + ny) / 2;
  const down = 1 - up;
  out[at] = Math.floor(Math.min(1, key[0] * lit + sky[0] * up + ground[0] * down) * whole + 0.5);
  out[at + 1] = Math.floor(Math.min(1, key[1] * lit + sky[1] * up + ground[1] * down) * whole + 0.5);
  out[at + 2] = Math.floor(Math.min(1, key[2] * lit + sky[2] * up + ground[2] * down) * whole + 0.5);
}
