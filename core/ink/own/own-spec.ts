import { z } from 'zod';
import { cueSpec } from '../../cues';
import { inkStyleSchema } from '../line';

const part = z.number().min(0).max(1);
const coordinate = z.number().min(-1e9).max(1e9);
const place = z.tuple([coordinate, coordinate, coordinate]);

export const BORDERS = ['parts', 'islands'] as const;
export const BENDS = ['ridges', 'valleys', 'both'] as const;

/** Views at the most, and directions of hatching. */
export const MOST_VIEWS = 6;
export const MOST_HATCHES = 3;

/** From where contours are seen. */
export const inkViewSchema = z.strictObject({
  name: z.string().max(60),
  /** Where the eye is, model space; without perspective the direction toward it. */
  eye: place.refine((p) => p.some((x) => x !== 0), 'an eye is not at 0, 0, 0'),
  flat: z.boolean(),
});

/** Along what lines run by themselves. */
export const ownSourceSchema = z.discriminatedUnion('along', [
  /** Where parts, regions or islands meet. */
  z.strictObject({
    along: z.literal('borders'),
    of: z.array(z.enum(BORDERS)).max(BORDERS.length),
    regions: z.array(z.int().nonnegative()).max(500),
  }),
  /** Where neighbouring triangles turn by more than an angle, degrees. */
  z.strictObject({ along: z.literal('creases'), angle: z.number().min(2).max(179), which: z.enum(BENDS) }),
  /** Where the surface turns away from the eye. */
  z.strictObject({
    along: z.literal('contours'),
    views: z.array(inkViewSchema).min(1).max(MOST_VIEWS),
    /** Also those before other parts of the model, not only those before the background. */
    inner: z.boolean(),
  }),
  /** Where the surface bends most. */
  z.strictObject({
    along: z.literal('folds'),
    which: z.enum(BENDS),
    /** What is finer is passed over, in parts of the model's diagonal. */
    scale: z.number().min(0).max(0.2),
    /** How much it must bend: 0 all, 1 only the sharpest. */
    least: part,
  }),
  /** Strokes that are closer where it is darker. */
  z.strictObject({
    along: z.literal('hatching'),
    /** What tells how dark it is: dark where it is low. */
    tone: cueSpec,
    /** The tone that is black, and the one from which on nothing is drawn. */
    low: part,
    high: part,
    invert: z.boolean(),
    /** Along the form, around the upright axis, or down. */
    way: z.enum(['form', 'around', 'down']),
    directions: z.int().min(1).max(MOST_HATCHES),
    /** Between strokes where it is darkest, and their length, parts of the diagonal. */
    spacing: z.number().min(0.002).max(0.2),
    length: z.number().min(0.005).max(0.6),
  }),
]);

/** Lines that the form draws by itself. They are drawn anew whenever it changes, until they are taken over for editing. */
export const ownLinesSchema = z.strictObject({
  from: ownSourceSchema,
  style: inkStyleSchema,
  /** Shorter ones are left out, parts of the model's diagonal. */
  shortest: z.number().min(0).max(1),
  /** How far they may stray from the triangles' edges to be smooth: 0 not at all. */
  smooth: part,
  /** What makes them thinner where it is high: toward the light; null: nothing does. */
  width: z
    .strictObject({
      cue: cueSpec,
      /** The width where it is highest, in parts of the whole. */
      least: part,
      /** Thinner where it is low instead. */
      invert: z.boolean(),
    })
    .nullable(),
});

export type InkView = Readonly<z.infer<typeof inkViewSchema>>;
export type OwnSource = Readonly<z.infer<typeof ownSourceSchema>>;
export type OwnLines = Readonly<z.infer<typeof ownLinesSchema>>;
