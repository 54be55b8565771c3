import { z } from 'zod';
import { hexColor, hexToRgb } from '../../color';
import { findNode } from '../../document';
import { isEmptyTile, type TileState } from '../../pixels';
import { codesOfTile, filledTiles, layersOfTile, TILE_BYTES, TILE_TEXELS } from '../../surface';
import { command } from '../command';
import { channel, except, id } from '../fields';
import { item } from '../items';
import { nodeName } from '../nodes';
import { paintedChannel } from '../plane-work';

/** One colour over all that the surface covers; on a mask only its lightness counts. */
export const fill = command(
  z.strictObject({
    do: z.literal('fill'),
    layer: id,
    channel,
    color: hexColor,
    /** Only there. */
    region: id.optional(),
    except,
  }),
  {
    label: ({ layer }, { layers }) => `Fill ${nodeName(layers, layer)}`,
    pixels: ({ layer, channel, color, region, except }, { before, pixels, surface }) => {
      const plane = paintedChannel(before, layer, channel);
      const inside = region === undefined ? null : new Set(item(before.regions, region, 'region').faces);
      const { parts, faceParts } = surface.mesh;
      const leaves = new Set(except.map((name) => parts.indexOf(name)));
      const { r, g, b } = hexToRgb(color);
      const word = (r | (g << 8) | (b << 16) | 0xff000000) >>> 0;
      const keepAlpha = findNode(before.layers, layer)?.lock === 'transparent' && channel === 'pixels';
      const tiles = filledTiles(surface).flatMap((tile): TileState[] => {
        // A texel that several places share is filled if any of them is to be.
        const layers = layersOfTile(surface, tile).map((layer) => codesOfTile(surface, layer)!);
        const isFilled = (face: number): boolean =>
          face >= 0 && (!inside || inside.has(face)) && !leaves.has(faceParts[face]!);
        const present = pixels.get(plane, tile);
        if (keepAlpha && !present) return [];
        const out = present ? present.slice() : new Uint8Array(TILE_BYTES);
        const words = new Uint32Array(out.buffer);
        for (let i = 0; i < TILE_TEXELS; i++) {
          if (!layers.some((codes) => isFilled(codes[i]! >> 2))) continue;
          if (!keepAlpha) words[i] = word;
          else if (out[i * 4 + 3]! > 0) words[i] = ((word & 0xffffff) | (out[i * 4 + 3]! << 24)) >>> 0;
        }
        // Nothing of it may have been filled.
        return isEmptyTile(out) && !present ? [] : [{ plane, tile, bytes: out }];
      });
      return { tiles, rebased: [plane] };
    },
  },
);
