import { z } from 'zod';
import { clamp01, mix } from '../math';
import { linearToSrgb } from './srgb';
import { oklabToLinearSrgb, oklabToOklch, oklchToOklab, rgbToOklab, type Oklab } from './oklab';
import { hexColor, hexToRgb } from './rgb';

const part = z.number().min(0).max(1);

export const rampStops = z
  .array(z.strictObject({ at: part, color: hexColor }))
  .min(2)
  .max(16)
  .refine((stops) => stops.every((s, i) => i === 0 || s.at >= stops[i - 1]!.at), {
    message: 'stops of a ramp go from dark to light',
  });

/** Colours from dark to light. */
export const rampSchema = z.strictObject({
  stops: rampStops,
  /** In which space colours between stops are mixed; in OKLCH hues go the shorter way round. */
  mixing: z.enum(['oklab', 'oklch']),
  /** 0 soft between stops, 1 with a hard border halfway. */
  hardness: part,
});

export type RampStops = z.infer<typeof rampStops>;
export type Ramp = z.infer<typeof rampSchema>;

/** Less chroma than this has no hue to speak of: it takes that of its neighbour. */
const GREY = 2e-3;

/** A ramp's colour at a place 0..1. Outside of its first and last stop these go on. */
export function rampAt({ stops, mixing, hardness }: Ramp, at: number): Oklab {
  const next = stops.findIndex((s) => s.at > at);
  const above = stops[next < 0 ? stops.length - 1 : next]!;
  const below = stops[next < 0 ? stops.length - 1 : Math.max(0, next - 1)]!;
  const plain = above.at > below.at ? clamp01((at - below.at) / (above.at - below.at)) : 0;
  const t = hardened(plain, hardness);
  const [x, y] = [below, above].map((s) => rgbToOklab(hexToRgb(s.color))) as [Oklab, Oklab];
  if (mixing === 'oklab') return { L: mix(x.L, y.L, t), a: mix(x.a, y.a, t), b: mix(x.b, y.b, t) };
  const [p, q] = [oklabToOklch(x), oklabToOklch(y)];
  const from = p.C < GREY ? q.h : p.h;
  const to = q.C < GREY ? from : q.h;
  const turn = ((((to - from) % 360) + 540) % 360) - 180;
  return oklchToOklab({ L: mix(p.L, q.L, t), C: mix(p.C, q.C, t), h: from + turn * t });
}

/** Squeezes the way between two stops into a border halfway; at 1 nothing of it is left. */
function hardened(t: number, hardness: number): number {
  if (hardness === 0) return t;
  const width = 1 - hardness;
  return width > 0 ? clamp01((t - 0.5) / width + 0.5) : t < 0.5 ? 0 : 1;
}

/**
 * A ramp as a table to be read quickly.
 *
 * @param steps how many; entry i stands for the place i / (steps - 1)
 * @returns sRGB-encoded r, g, b, each 0..1, one entry after the other; what leaves the gamut is cut off channel by channel
 */
export function rampTable(ramp: Ramp, steps: number): Float32Array {
  const out = new Float32Array(steps * 3);
  for (let i = 0; i < steps; i++) {
    out.set(
      oklabToLinearSrgb(rampAt(ramp, i / (steps - 1))).map((c) => linearToSrgb(clamp01(c))),
      i * 3,
    );
  }
  return out;
}
