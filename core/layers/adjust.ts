import { z } from 'zod';
import {
  linearSrgbToOklab,
  linearToSrgb,
  oklabToLinearSrgb,
  rampAt,
  rampStops,
  type RampStops,
  srgbToLinear,
  type Oklab,
} from '../color';
import type { ColorChannels } from '../composite';
import { clamp01, mix, monotoneCurve } from '../math';
import { nodeBase } from './layer-base';
import type { ChangeKind } from './layer-kind';
import { applyLevels, levelsSchema } from './levels';

const part = z.number().min(0).max(1);

/** What is done to the colours. */
export const changeSchema = z.discriminatedUnion('by', [
  z.strictObject({
    by: z.literal('oklch'),
    /** Degrees by which hues are turned. */
    hue: z.number().min(-180).max(180),
    /** Times as much chroma. */
    chroma: z.number().min(0).max(3),
    /** Added to lightness. */
    lightness: z.number().min(-1).max(1),
  }),
  z.strictObject({ by: z.literal('levels'), ...levelsSchema.shape, outLow: part, outHigh: part }),
  /** A curve through points from left to right, for all three channels. */
  z.strictObject({
    by: z.literal('curve'),
    points: z
      .array(z.tuple([part, part]))
      .min(2)
      .max(16)
      .refine((points) => points.every((p, i) => i === 0 || p[0] > points[i - 1]![0]), {
        message: 'points of a curve go from left to right',
      }),
  }),
  /** Each tone moved by itself, in OKLab; between stops, by lightness, evenly from one to the next. */
  z.strictObject({
    by: z.literal('balance'),
    stops: z
      .array(
        z.strictObject({
          /** The lightness that it is told for, 0..1. */
          at: part,
          lightness: z.number().min(-1).max(1),
          /** Toward red, and toward green where negative. */
          red: z.number().min(-0.4).max(0.4),
          /** Toward yellow, and toward blue where negative. */
          yellow: z.number().min(-0.4).max(0.4),
        }),
      )
      .min(1)
      .max(8)
      .refine((stops) => stops.every((s, i) => i === 0 || s.at >= stops[i - 1]!.at), {
        message: 'tones go from dark to light',
      }),
  }),
  /** Lightness becomes colour; between stops it is mixed in OKLab. */
  z.strictObject({
    by: z.literal('ramp'),
    stops: rampStops,
  }),
]);

export type Change = z.infer<typeof changeSchema>;

const schema = z.strictObject({ ...nodeBase, kind: z.literal('adjust'), change: changeSchema });

export type AdjustLayer = z.infer<typeof schema>;

/** Steps of a table over 0..1; read between them its error stays under 1/4000 of 1 for every curve that levels and points allow. */
const TABLE = 4096;

/** Changes the colours of everything below it in its group. */
export const adjustKind = {
  kind: 'adjust',
  schema,
  inRecipes: true,
  form: 'change',
  inputs: ({ change }) => JSON.stringify(change),
  adjuster: ({ change }) => {
    switch (change.by) {
      case 'oklch':
        return (colors) => turnColors(colors, change);
      case 'levels':
        return byChannel((x) => mix(change.outLow, change.outHigh, applyLevels(change, x)));
      case 'curve':
        return byChannel(monotoneCurve(change.points));
      case 'balance':
        return (colors) => balance(colors, change.stops);
      case 'ramp':
        return byLightness(change.stops);
    }
  },
} as const satisfies ChangeKind<AdjustLayer>;

/** Hue turned, chroma multiplied, lightness added in OKLCH; what leaves the gamut is cut off channel by channel. */
function turnColors(
  { r, g, b }: ColorChannels,
  { hue, chroma, lightness }: Extract<Change, { by: 'oklch' }>,
): void {
  const angle = (hue * Math.PI) / 180;
  const cos = Math.cos(angle) * chroma;
  const sin = Math.sin(angle) * chroma;
  for (let i = 0; i < r.length; i++) {
    const lab = linearSrgbToOklab(srgbToLinear(r[i]!), srgbToLinear(g[i]!), srgbToLinear(b[i]!));
    putOklab(r, g, b, i, {
      L: lab.L + lightness,
      a: lab.a * cos - lab.b * sin,
      b: lab.a * sin + lab.b * cos,
    });
  }
}

type BalanceStops = Extract<Change, { by: 'balance' }>['stops'];

/** Tones moved each by its own; what leaves the gamut is cut off channel by channel. */
function balance({ r, g, b }: ColorChannels, stops: BalanceStops): void {
  const moves = Array.from({ length: BALANCE_TABLE + 1 }, (_, i) => balanceAt(stops, i / BALANCE_TABLE));
  for (let i = 0; i < r.length; i++) {
    const lab = linearSrgbToOklab(srgbToLinear(r[i]!), srgbToLinear(g[i]!), srgbToLinear(b[i]!));
    const x = clamp01(lab.L) * BALANCE_TABLE;
    const k = Math.min(BALANCE_TABLE - 1, Math.floor(x));
    const [one, two] = [moves[k]!, moves[k + 1]!];
    putOklab(r, g, b, i, {
      L: lab.L + mix(one.lightness, two.lightness, x - k),
      a: lab.a + mix(one.red, two.red, x - k),
      b: lab.b + mix(one.yellow, two.yellow, x - k),
    });
  }
}

/** Stops rarely lie nearer than this many steps of a table that is straight between its steps. */
const BALANCE_TABLE = 512;

/** By how much a lightness is moved: as the nearest stop beyond the first and the last. */
function balanceAt(stops: BalanceStops, L: number): Omit<BalanceStops[number], 'at'> {
  const next = stops.findIndex((s) => s.at > L);
  const above = stops[next < 0 ? stops.length - 1 : next]!;
  const below = stops[next < 0 ? stops.length - 1 : Math.max(0, next - 1)]!;
  const t = above.at > below.at ? clamp01((L - below.at) / (above.at - below.at)) : 0;
  return {
    lightness: mix(below.lightness, above.lightness, t),
    red: mix(below.red, above.red, t),
    yellow: mix(below.yellow, above.yellow, t),
  };
}

function putOklab(r: Float32Array, g: Float32Array, b: Float32Array, i: number, lab: Oklab): void {
  const linear = oklabToLinearSrgb(lab);
  r[i] = linearToSrgb(clamp01(linear[0]));
  g[i] = linearToSrgb(clamp01(linear[1]));
  b[i] = linearToSrgb(clamp01(linear[2]));
}

function byChannel(curve: (x: number) => number): (colors: ColorChannels) => void {
  const table = Float32Array.from({ length: TABLE + 1 }, (_, i) => clamp01(curve(i / TABLE)));
  return ({ r, g, b }) => {
    for (const plane of [r, g, b]) {
      for (let i = 0; i < plane.length; i++) {
        const x = clamp01(plane[i]!) * TABLE;
        const k = Math.min(TABLE - 1, Math.floor(x));
        plane[i] = mix(table[k]!, table[k + 1]!, x - k);
      }
    }
  };
}

function byLightness(stops: RampStops): (colors: ColorChannels) => void {
  const ramp = { stops, mixing: 'oklab', hardness: 0 } as const;
  const table = Array.from({ length: TABLE + 1 }, (_, i) => rampAt(ramp, i / TABLE));
  return ({ r, g, b }) => {
    for (let i = 0; i < r.length; i++) {
      const { L } = linearSrgbToOklab(srgbToLinear(r[i]!), srgbToLinear(g[i]!), srgbToLinear(b[i]!));
      putOklab(r, g, b, i, table[Math.round(clamp01(L) * TABLE)]!);
    }
  };
}
