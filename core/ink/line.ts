import { z } from 'zod';
import { hexColor } from '../color';
import { clamp01 } from '../math';
import { curveSchema } from '../paint';

/** Points that a line may have. */
export const MOST_POINTS = 2000;

/** Lines that an ink layer may have. */
export const MOST_LINES = 5000;

const part = z.number().min(0).max(1);
const coordinates = z.array(z.number().min(-1e9).max(1e9)).max(MOST_POINTS * 3);

export const NIBS = ['round', 'flat', 'broken'] as const;

/** How a line is drawn. Lengths are model units. */
export const inkStyleSchema = z.strictObject({
  color: hexColor,
  opacity: part,
  /** Where it is widest. */
  width: z.number().positive().max(1e9),
  /** Over which part of its length it grows from nothing at its beginning, and shrinks to nothing at its end. */
  taper: z.tuple([part, part]),
  /** Width from its beginning to its end, in parts of the widest; null: even. */
  profile: curveSchema.nullable(),
  nib: z.enum(NIBS),
  /** The direction in which a flat nib is broad, radians from level, as seen from outside. */
  nibTurn: z.number().min(-4).max(4),
  /** How far a hand strays to either side, in widths. */
  wobble: z.number().min(0).max(4),
  /** How far it runs on at both ends, in widths. */
  overshoot: z.number().min(0).max(40),
  /** Which part of a broken line is missing. */
  breaks: part,
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1),
  /** What lies within a closed line; null: nothing is laid there. */
  fill: hexColor.nullable(),
});

export type InkStyle = z.infer<typeof inkStyleSchema>;

/** As a line is drawn at first. @param width model units */
export const usualInk = (width: number): InkStyle => ({
  color: '#2b2320',
  opacity: 1,
  width,
  taper: [0.15, 0.25],
  profile: null,
  nib: 'round',
  nibTurn: Math.PI / 4,
  wobble: 0,
  overshoot: 0,
  breaks: 0.3,
  seed: 1,
  fill: null,
});

/**
 * A chain of cubic Bézier curves whose points lie on the surface. It is kept by places in model space, not by triangles, so that it
 * outlives another layout and another mesh of the same form; between its points it is projected onto the surface, see trace.ts.
 */
const shape = z.strictObject({
  /** Its number within the layer. */
  id: z.int().nonnegative(),
  /** Its points, xyz each, model units. */
  at: coordinates,
  /** The handle of each point toward the next, xyz from the point. */
  ahead: coordinates,
  /** The handle of each point toward the one before it, xyz from the point. */
  back: coordinates,
  /** How hard the pen pressed at each point: times the width. */
  press: z.array(part).max(MOST_POINTS),
  /** Goes on from its last point to its first. */
  closed: z.boolean(),
  style: inkStyleSchema,
});

const isWhole = ({ at, ahead, back, press, closed }: Omit<z.infer<typeof shape>, 'id'>): boolean =>
  [at, ahead, back].every((list) => list.length === press.length * 3) && press.length >= (closed ? 3 : 2);

const WHOLE = 'a line has two points or more, a closed one three, each with its handles and pressure';

export const inkLineSchema = shape.refine(isWhole, WHOLE);

/** A line as it is given: without a number it is a new one. */
export const inkWishSchema = shape.extend({ id: z.int().nonnegative().nullable() }).refine(isWhole, WHOLE);

export type InkWish = Readonly<z.infer<typeof inkWishSchema>>;
export type InkLine = Readonly<z.infer<typeof inkLineSchema>>;

export const pointCount = ({ press }: Pick<InkLine, 'press'>): number => press.length;

/** Curves between its points. */
export const spanCount = ({ press, closed }: Pick<InkLine, 'press' | 'closed'>): number =>
  press.length - (closed ? 0 : 1);

/** How wide a line is, in parts of its widest. @param t how far along it, 0..1 */
export function widthAlong(
  { taper, profile }: Pick<InkStyle, 'taper' | 'profile'>,
  t: number,
  curve: ((x: number) => number) | null,
): number {
  const [begin, end] = taper;
  const grown = begin > 0 ? clamp01(t / begin) : 1;
  const left = end > 0 ? clamp01((1 - t) / end) : 1;
  // As the sine of a quarter turn: round at the tip, without a corner where it reaches its width.
  const tapered = Math.sin((grown * Math.PI) / 2) * Math.sin((left * Math.PI) / 2);
  return tapered * (profile && curve ? clamp01(curve(t)) : 1);
}
