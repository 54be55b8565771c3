import { z } from 'zod';
import { strokeLabel, strokeWishSchema } from '../../paint';
import { command } from '../command';
import { channel, guardWishSchema, id } from '../fields';
import { nodeName } from '../nodes';

/** A step of its own: see `StrokeMaker`. */
export const stroke = command(
  z.strictObject({
    do: z.literal('stroke'),
    layer: id,
    channel,
    guard: guardWishSchema.nullable().default(null),
    /** Only what is painted already is changed, as where what is transparent is locked. */
    keepAlpha: z.boolean().default(false),
    stroke: strokeWishSchema,
  }),
  {
    label: ({ layer, channel, stroke }, { layers }) =>
      channel === 'mask' ? `Paint on the mask of ${nodeName(layers, layer)}` : strokeLabel(stroke),
  },
);
