import { hexToRgb, oklabToHex, rgbToOklab, type Oklab, type Ramp, type Rgb } from '../color';
import { localColor, type Change, type Layer, type MaskStep, type Target } from '../layers';
import type { NamedArea } from '../match';

export type Tones = Extract<Change, { by: 'balance' }>['stops'];

export const GREYS: Ramp = {
  stops: [
    { at: 0, color: '#5a4a50' },
    { at: 1, color: '#d8c8b8' },
  ],
  mixing: 'oklab',
  hardness: 0,
};

export const hasOwn = ({ colors, regions }: Extract<Layer, { kind: 'local' }>, of: Target): boolean =>
  'part' in of ? colors.some(([name]) => name === of.part) : regions.some(([id]) => id === of.region);

export const colorOf = (layer: Extract<Layer, { kind: 'local' }>, of: Target): string =>
  'part' in of ? localColor(layer, of.part) : layer.regions.find(([id]) => id === of.region)![1];

export const maskOf = (of: Target): MaskStep =>
  'part' in of
    ? {
        from: 'parts',
        join: 'multiply',
        levels: { low: 0, high: 1, gamma: 1 },
        invert: false,
        parts: [of.part],
      }
    : {
        from: 'region',
        join: 'multiply',
        levels: { low: 0, high: 1, gamma: 1 },
        invert: false,
        region: of.region,
      };

const offOf = ({ reference, model }: { readonly reference: Rgb; readonly model: Rgb }): Oklab => {
  const [r, m] = [rgbToOklab(reference), rgbToOklab(model)];
  return { L: r.L - m.L, a: r.a - m.a, b: r.b - m.b };
};

export function moved(color: Oklab, area: NamedArea): Oklab {
  const off = offOf(area);
  return { L: color.L + off.L, a: color.a + off.a, b: color.b + off.b };
}

const LOWEST = 0.02;

/** Moves of shadow, middle and light, each at the lightness that it has without them. */
export function stopsFor({ tones }: NamedArea, before: Tones | null): Tones {
  const made = (['shadow', 'mid', 'light'] as const).map((tone, i) => {
    const off = offOf(tones[tone]);
    const was = before?.[i];
    return {
      at: was?.at ?? Math.min(1, Math.max(0, rgbToOklab(tones[tone].model).L)),
      lightness: held(off.L + (was?.lightness ?? 0), 1),
      red: held(off.a + (was?.red ?? 0), 0.4),
      yellow: held(off.b + (was?.yellow ?? 0), 0.4),
    };
  });
  // From dark to light, however near they lie.
  return made.map((stop, i) =>
    i > 0 && stop.at <= made[i - 1]!.at ? { ...stop, at: Math.min(1, made[i - 1]!.at + LOWEST) } : stop,
  );
}

const held = (x: number, most: number): number =>
  Math.min(most, Math.max(-most, Math.round(x * 10_000) / 10_000));

export const added = (a: Tones, b: Tones): Tones =>
  a.map((stop, i) => ({
    at: stop.at,
    lightness: held(stop.lightness + (b[i]?.lightness ?? 0), 1),
    red: held(stop.red + (b[i]?.red ?? 0), 0.4),
    yellow: held(stop.yellow + (b[i]?.yellow ?? 0), 0.4),
  }));

/** The same for colours that stand evenly. */
export const movedColors = (colors: readonly string[], moves: Tones): string[] =>
  movedRamp(
    { ...GREYS, stops: colors.map((color, k) => ({ at: k / (colors.length - 1), color })) },
    moves,
  ).stops.map(({ color }) => color);

/** A ramp's stops moved by those of shadow, middle and light, by where they stand between dark and light. */
export function movedRamp(ramp: Ramp, moves: Tones): Ramp {
  const [shadow, middle, light] = [moves[0]!, moves[1] ?? moves[0]!, moves[2] ?? moves[0]!];
  return {
    ...ramp,
    stops: ramp.stops.map(({ at, color }) => {
      const [one, two, t] = at < 0.5 ? [shadow, middle, at * 2] : [middle, light, at * 2 - 1];
      const lab = rgbToOklab(hexToRgb(color));
      const by = (key: 'lightness' | 'red' | 'yellow'): number => one[key] + (two[key] - one[key]) * t;
      return {
        at,
        color: oklabToHex({ L: lab.L + by('lightness'), a: lab.a + by('red'), b: lab.b + by('yellow') }),
      };
    }),
  };
}
