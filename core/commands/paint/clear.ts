import { z } from 'zod';
import { command } from '../command';
import { channel, id } from '../fields';
import { nodeName } from '../nodes';
import { emptied, paintedChannel } from '../plane-work';

export const clear = command(z.strictObject({ do: z.literal('clear'), layer: id, channel }), {
  label: ({ layer }, { layers }) => `Clear ${nodeName(layers, layer)}`,
  pixels: ({ layer, channel }, { before, pixels }) => {
    const plane = paintedChannel(before, layer, channel);
    return { tiles: emptied(pixels, plane), rebased: [plane] };
  },
});
