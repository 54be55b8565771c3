import { z } from 'zod';
import { brushSchema, NO_DRIVES, PLAIN_BRUSH, STRAIGHT, type BrushShape } from '../../core/paint';

/** A brush as it lies in the tray. */
export const brushInTray = z.object({
  name: z.string().min(1).max(60),
  /** Across: screen pixels, thousandths of the model, or texels. */
  size: z.number().min(1).max(500),
  unit: z.enum(['pixels', 'model', 'texels']),
  opacity: z.number().min(0.01).max(1),
  erase: z.boolean(),
  shape: brushSchema,
  /** The set in which it lies; empty: none. */
  set: z.string().max(40).default(''),
  /** Its tip, where that is a picture: a PNG in base64, black where it covers. */
  picture: z.base64().max(200_000).nullable().default(null),
});

export type Brush = z.infer<typeof brushInTray>;

/** The most brushes that a tray holds. */
export const MOST_BRUSHES = 60;

const brush = (
  name: string,
  size: number,
  opacity: number,
  shape: Partial<BrushShape>,
  erase = false,
): Omit<Brush, 'set'> => ({
  name,
  size,
  unit: 'pixels',
  opacity,
  erase,
  shape: { ...PLAIN_BRUSH, ...shape },
  picture: null,
});

/** The sets of those that ship. */
export const BRUSH_SETS = ['Every day', 'Bristle and pen', 'Texture'] as const;

const inSet = (set: (typeof BRUSH_SETS)[number], brushes: readonly Omit<Brush, 'set'>[]): Brush[] =>
  brushes.map((b) => ({ ...b, set }));

const PRESSED_OPACITY = { ...NO_DRIVES, opacity: STRAIGHT };
const PRESSED_SIZE = { ...NO_DRIVES, size: STRAIGHT };

/** Those that ship: round ones for every day, bristles and pens, and what breaks a surface up. */
export const BRUSHES: readonly Brush[] = [
  ...inSet('Every day', [
    brush('Wide glaze', 120, 0.3, { edge: 0.9, pressure: PRESSED_OPACITY }),
    brush('Soft shade', 64, 0.55, { edge: 1, pressure: PRESSED_OPACITY }),
    brush('Flat paint', 36, 1, { edge: 0.25, pressure: PRESSED_OPACITY }),
    brush('Sharp line', 8, 1, { edge: 0.1, spacing: 0.08, pressure: PRESSED_SIZE }),
    brush('Eraser', 48, 1, { edge: 0.4, pressure: PRESSED_OPACITY }, true),
  ]),
  ...inSet('Bristle and pen', [
    brush('Flat bristle', 56, 0.9, {
      tip: 'flat-bristle',
      edge: 0.1,
      follows: 'stroke',
      turn: Math.PI / 2,
      spacing: 0.03,
      pressure: PRESSED_OPACITY,
    }),
    brush('Dry bristle', 72, 0.9, {
      tip: 'dry-bristle',
      edge: 0.1,
      follows: 'stroke',
      turn: Math.PI / 2,
      spacing: 0.03,
      grain: { kind: 'value', scale: 160, depth: 0.7 },
      pressure: PRESSED_OPACITY,
    }),
    brush('Square block', 48, 1, {
      tip: 'square',
      edge: 0.05,
      follows: 'stroke',
      spacing: 0.05,
      pressure: PRESSED_OPACITY,
    }),
    brush('Broad nib', 26, 1, { tip: 'nib', edge: 0, turn: Math.PI / 4, spacing: 0.03 }),
    brush('Fine hair', 44, 0.85, {
      tip: 'hair',
      edge: 0,
      follows: 'stroke',
      spacing: 0.3,
      jitter: { size: 0.3, opacity: 0.3, turn: 0.03, hue: 0, light: 0 },
      pressure: PRESSED_SIZE,
    }),
  ]),
  ...inSet('Texture', [
    brush('Chalk', 46, 0.8, {
      tip: 'chalk',
      edge: 0,
      spacing: 0.12,
      jitter: { size: 0.15, opacity: 0.4, turn: 1, hue: 0, light: 0 },
      grain: { kind: 'value', scale: 220, depth: 0.6 },
      pressure: PRESSED_OPACITY,
    }),
    brush('Sponge', 84, 0.5, {
      tip: 'sponge',
      edge: 0,
      spacing: 0.35,
      jitter: { size: 0.3, opacity: 0.4, turn: 1, hue: 0, light: 0 },
      pressure: PRESSED_OPACITY,
    }),
    brush('Cloud', 110, 0.22, {
      tip: 'cloud',
      edge: 0,
      spacing: 0.15,
      builds: true,
      jitter: { size: 0.25, opacity: 0.5, turn: 1, hue: 0, light: 0 },
      pressure: PRESSED_OPACITY,
    }),
    brush('Leaves', 40, 1, {
      tip: 'leaf',
      edge: 0,
      spacing: 0.55,
      scatter: 0.7,
      count: 2,
      jitter: { size: 0.5, opacity: 0, turn: 1, hue: 0, light: 0 },
    }),
    brush('Spatter', 70, 1, {
      tip: 'spatter',
      edge: 0,
      spacing: 0.6,
      scatter: 0.4,
      jitter: { size: 0.5, opacity: 0.2, turn: 1, hue: 0, light: 0 },
    }),
    brush('Hatching', 60, 0.8, { tip: 'hatch', edge: 0, turn: Math.PI / 4, spacing: 0.5 }),
  ]),
];

/** The sets in which brushes lie, in the order of the tray; the last is that of those in none. */
export function setsOf(tray: readonly Brush[]): string[] {
  const sets = [...new Set(tray.map((b) => b.set))];
  return sets.includes('') ? [...sets.filter(Boolean), ''] : sets;
}
