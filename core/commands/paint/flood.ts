import { z } from 'zod';
import { hexColor } from '../../color';
import { detailOf, findNode } from '../../document';
import { TILE_BYTES } from '../../surface';
import { command } from '../command';
import { at, channel, except, id } from '../fields';
import { nodeName } from '../nodes';
import { paintedChannel } from '../plane-work';
import { flooded, laidOver } from './flooded';

/** One colour over what looks much like a texel, on the surface from there on or everywhere. */
export const flood = command(
  z.strictObject({
    do: z.literal('flood'),
    layer: id,
    channel,
    color: hexColor,
    /** Its number among all texels of all sheets. */
    texel: at,
    /** How much colours may differ, CIEDE2000. */
    tolerance: z.number().min(0).max(100),
    everywhere: z.boolean().default(false),
    except,
  }),
  {
    label: ({ layer }, { layers }) => `Flood ${nodeName(layers, layer)}`,
    pixels: (command, { before, pixels, surface, picture }) => {
      const { layer, channel, color, texel, tolerance, everywhere, except } = command;
      const plane = paintedChannel(before, layer, channel);
      const keepAlpha = channel === 'pixels' && findNode(before.layers, layer)?.lock === 'transparent';
      const rgbaOf = (tile: number): Uint8Array => {
        const bytes = new Uint8Array(TILE_BYTES);
        picture.composite(tile, bytes, detailOf(before.layers, layer));
        return bytes;
      };
      const area = flooded(surface, texel, { tolerance, everywhere, except, rgbaOf });
      const present = (tile: number): Uint8Array | undefined => pixels.get(plane, tile);
      return { tiles: laidOver(area, color, plane, present, keepAlpha), rebased: [plane] };
    },
  },
);
