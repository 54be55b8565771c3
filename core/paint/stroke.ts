import { z } from 'zod';
import { PLAIN_BRUSH } from './brush';
import type { ToolEffect, EffectSurface } from './tool-effect';
import type { Tool } from './tool';
import { TOOLS } from './tools/list';

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

/** The schemas of tools, each with more. */
type With<T extends readonly { readonly fields: z.ZodRawShape }[], More extends z.ZodRawShape> = {
  -readonly [I in keyof T]: z.ZodObject<T[I]['fields'] & More, z.core.$strict>;
};

/** A schema a tool: what it reads, and more. */
const eachTool = <More extends z.ZodRawShape>(more: More): With<typeof TOOLS, More> =>
  TOOLS.map(({ fields }) => z.strictObject({ ...fields, ...more })) as never;

/** What is known of a stroke when it begins, a tool each. */
export const strokeStyleSchema = z.discriminatedUnion('tool', eachTool({}));

/** A stroke as it is asked for. */
export const strokeWishSchema = z.discriminatedUnion('tool', eachTool(runs));

/** A stroke as it was made; the pixels are its result. Samples (see SAMPLE_STRIDE) lie on the surface of its frame. */
export const strokeSchema = z.discriminatedUnion('tool', eachTool(made));

export type StrokeStyle = z.infer<typeof strokeStyleSchema>;
export type StrokeWish = z.infer<typeof strokeWishSchema>;
export type Stroke = z.infer<typeof strokeSchema>;
export type ToolName = StrokeStyle['tool'];
export type StyleOf<T extends ToolName> = Extract<StrokeStyle, { tool: T }>;
/** The style of any tool with a brush. */
export type BrushedStyle = Exclude<StrokeStyle, { tool: 'fill' }>;

const byName: ReadonlyMap<string, Tool<StrokeStyle>> = new Map(
  TOOLS.map((tool) => [tool.fields.tool.value, tool]),
);

const toolOf = (style: StrokeStyle): Tool<StrokeStyle> => byName.get(style.tool)!;

/** What a stroke is called where it can be undone. */
export const strokeLabel = (style: StrokeStyle): string => toolOf(style).label(style);

/** How a stroke makes paint of its dabs. */
export const effectOf = (style: StrokeStyle, ground: EffectSurface): ToolEffect =>
  toolOf(style).effect(style, ground);

/** Ids of the project's patterns that a stroke needs to be made again. */
export const picturesOf = (style: StrokeStyle): number[] => [
  ...(toolOf(style).pictures?.(style) ?? []),
  ...('brush' in style && style.brush.picture !== null ? [style.brush.picture] : []),
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
