import { z } from 'zod';
import { changeLayers, swatchSchema } from '../../document';
import { kindOf } from '../../layers';
import { changed, command } from '../command';
import { id } from '../fields';
import { patchItem } from '../items';

export const patchSwatch = command(
  z.strictObject({
    do: z.literal('patch-swatch'),
    swatch: id,
    patch: swatchSchema.omit({ id: true }).partial(),
  }),
  {
    label: () => 'Change the palette',
    gesture: ({ swatch }) => swatch,
    apply: (document, { swatch, patch }) => {
      const palette = patchItem(document.palette, swatch, 'swatch', patch);
      const { color } = patch;
      if (color === undefined) return changed(document, { palette });
      // What stands on the model in that swatch's colour follows it.
      const layers = changeLayers(document.layers, (layer) => {
        const kind = kindOf(layer);
        return kind.form === 'derived' && kind.withSwatch ? kind.withSwatch(layer, swatch, color) : layer;
      });
      return changed(document, { palette, layers });
    },
  },
);
