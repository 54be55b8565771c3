import { z } from 'zod';
import { hexColor } from '../color';
import { faceRunsSchema } from '../mesh';
import { brushSchema, PLAIN_BRUSH } from './brush';
import { placingSchema } from '../math';
import { symmetrySchema } from './symmetry';

const vector = z.tuple([z.number(), z.number(), z.number()]);
const part = z.number().min(0).max(1);

/** What may hold any stroke back, beside the guard. */
const held = {
  /**
   * Only what was seen when it began: takes places of the model to the pixels of a picture SEEN_SIDE wide and high, three rows of four, x
   * from the left and y from the top times the depth, and the depth. `eye`: toward the eye where there is no perspective. `hidden`: triangles
   * that were not shown.
   */
  seen: z
    .strictObject({ view: z.array(z.number()).length(12), eye: vector, hidden: faceRunsSchema })
    .exactOptional(),
  /** Only what looked much like this in its layer before: straight-alpha RGBA8, and by how much colours may differ, CIEDE2000. */
  like: z
    .strictObject({ rgba: z.array(z.int().min(0).max(255)).length(4), tolerance: z.number().min(0).max(100) })
    .exactOptional(),
};

/** What every tool with a brush reads. */
const brushed = {
  ...held,
  /** How much it does where coverage is full; of each dab where they build up. */
  opacity: part,
  brush: brushSchema,
  /** What chance begins with. */
  seed: z.int().min(0).max(0xffffffff),
  /** Upward on the picture, and toward the eye, when it was made: model space. */
  up: vector,
  eye: vector,
  /** Leave alone what faces away from under the brush. */
  nearSide: z.boolean(),
  /** Where else it is made; left out: nowhere. */
  symmetry: symmetrySchema.exactOptional(),
};

/** What each tool reads. */
const fields = {
  /** Lays a colour, or takes paint away. */
  brush: { tool: z.literal('brush'), erase: z.boolean(), color: hexColor, ...brushed },
  /** Evens out what lies there, along the surface. */
  soften: { tool: z.literal('soften'), ...brushed },
  /** Drags what lies there along. */
  smear: { tool: z.literal('smear'), ...brushed },
  /** Deepens or lifts: OKLCH lightness and chroma go up or down by so much, the hue stays. */
  tone: {
    tool: z.literal('tone'),
    lightness: z.number().min(-1).max(1),
    chroma: z.number().min(-0.4).max(0.4),
    ...brushed,
  },
  /**
   * Brings what the layer had at another place before the stroke: `from` leads there from where it is laid. `whole`: it has no samples, and
   * takes the place of all that its guard lets through, on the side of the plane that the normal points to; with `twins` it comes from where the
   * other side's triangles hang together as there.
   */
  copy: {
    tool: z.literal('copy'),
    from: placingSchema,
    whole: z.strictObject({ point: vector, normal: vector, twins: z.boolean() }).nullable().default(null),
    ...brushed,
  },
  /**
   * Brings what a picture shows, as it was laid over the model: `view` takes a place of the model to the picture's pixels, three rows of
   * four, x from the left and y from the top times the depth, and the depth. `whole`: it has no samples, and covers all that its guard lets through.
   */
  through: {
    tool: z.literal('through'),
    /** Id of the project's pattern. */
    picture: z.int().nonnegative(),
    view: z.array(z.number()).length(12),
    whole: z.boolean(),
    ...brushed,
  },
  /** Covers all that its guard lets through. It has no samples. */
  fill: { tool: z.literal('fill'), erase: z.boolean(), color: hexColor, opacity: part, ...held },
} as const;

/** Samples in a row; a new run begins where the brush left the model and came back. */
const runs = { runs: z.array(z.array(z.number())) };

const made = {
  /** Made while what is transparent was locked: alpha stays as it was. */
  keepAlpha: z.boolean(),
  /** The guard that held it, by id; null for none. */
  within: z.int().nonnegative().nullable(),
  /** The frame in which its samples lie, by id. */
  frame: z.int().nonnegative(),
  ...runs,
};

const { brush, soften, smear, tone, copy, through, fill } = fields;

/** What is known of a stroke when it begins, a tool each. */
export const strokeStyleSchema = z.discriminatedUnion('tool', [
  z.strictObject(brush),
  z.strictObject(soften),
  z.strictObject(smear),
  z.strictObject(tone),
  z.strictObject(copy),
  z.strictObject(through),
  z.strictObject(fill),
]);

/** A stroke as it is asked for. */
export const strokeWishSchema = z.discriminatedUnion('tool', [
  z.strictObject({ ...brush, ...runs }),
  z.strictObject({ ...soften, ...runs }),
  z.strictObject({ ...smear, ...runs }),
  z.strictObject({ ...tone, ...runs }),
  z.strictObject({ ...copy, ...runs }),
  z.strictObject({ ...through, ...runs }),
  z.strictObject({ ...fill, ...runs }),
]);

/** A stroke as it was made; the pixels are its result. Samples (see SAMPLE_STRIDE) lie on the surface of its frame. */
export const strokeSchema = z.discriminatedUnion('tool', [
  z.strictObject({ ...brush, ...made }),
  z.strictObject({ ...soften, ...made }),
  z.strictObject({ ...smear, ...made }),
  z.strictObject({ ...tone, ...made }),
  z.strictObject({ ...copy, ...made }),
  z.strictObject({ ...through, ...made }),
  z.strictObject({ ...fill, ...made }),
]);

export type StrokeStyle = z.infer<typeof strokeStyleSchema>;
export type StrokeWish = z.infer<typeof strokeWishSchema>;
export type Stroke = z.infer<typeof strokeSchema>;
export type ToolName = StrokeStyle['tool'];
export type StyleOf<T extends ToolName> = Extract<StrokeStyle, { tool: T }>;
/** The style of any tool with a brush. */
export type BrushedStyle = Exclude<StrokeStyle, { tool: 'fill' }>;

/** Ids of the project's patterns that a stroke needs to be made again. */
export const picturesOf = (stroke: StrokeStyle): number[] => [
  ...(stroke.tool === 'through' ? [stroke.picture] : []),
  ...('brush' in stroke && stroke.brush.picture !== null ? [stroke.brush.picture] : []),
];

/** Stands in the place of a stroke that can't be read any more; paints nothing. */
export const LOST_STROKE: Stroke = {
  tool: 'brush',
  erase: false,
  color: '#000000',
  opacity: 0,
  brush: PLAIN_BRUSH,
  seed: 0,
  up: [0, 1, 0],
  eye: [0, 0, 1],
  nearSide: true,
  keepAlpha: true,
  within: null,
  frame: 0,
  runs: [],
};

/** Seven significant digits: what a 32-bit position holds, so that a stroke is the same after storage. */
export function roundSample(x: number): number {
  return Number(x.toPrecision(7));
}
