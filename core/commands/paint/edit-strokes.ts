import { z } from 'zod';
import { hexColor } from '../../color';
import { command } from '../command';
import { at, channel, id } from '../fields';

/** Changes strokes by their numbers among all of their plane, or removes them; a step of its own: see `editStrokes`. */
export const editStrokes = command(
  z.strictObject({
    do: z.literal('edit-strokes'),
    layer: id,
    channel,
    strokes: z.array(at).min(1).max(10_000),
    change: z.union([
      z.literal('remove'),
      z.strictObject({
        color: hexColor.exactOptional(),
        opacity: z.number().min(0).max(1).exactOptional(),
        /** So many times as wide. */
        size: z.number().min(0.05).max(20).exactOptional(),
      }),
    ]),
  }),
  {
    label: ({ strokes, change }) => {
      const many = strokes.length === 1 ? 'a stroke' : `${strokes.length} strokes`;
      return change === 'remove' ? `Remove ${many}` : `Change ${many}`;
    },
  },
);
