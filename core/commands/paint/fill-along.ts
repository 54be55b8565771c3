import { z } from 'zod';
import { command } from '../command';
import { id } from '../fields';
import { nodeName } from '../nodes';
import { paintedChannel } from '../plane-work';
import { filledAlong } from './filled-along';

/** Covers a paint layer with what another has, carried along the surface to where that one is bare. */
export const fillAlong = command(z.strictObject({ do: z.literal('fill-along'), layer: id, from: id }), {
  label: ({ layer, from }, { layers }) => `Fill ${nodeName(layers, layer)} from ${nodeName(layers, from)}`,
  pixels: ({ layer, from: source }, { before, pixels, surface }) => {
    const plane = paintedChannel(before, layer, 'pixels');
    const from = paintedChannel(before, source, 'pixels');
    return { tiles: filledAlong(surface, (tile) => pixels.get(from, tile), plane), rebased: [plane] };
  },
});
