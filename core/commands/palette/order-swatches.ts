import { z } from 'zod';
import { changed, command } from '../command';
import { ids } from '../fields';
import { item } from '../items';

/** In this order; those that aren't named behind. */
export const orderSwatches = command(z.strictObject({ do: z.literal('order-swatches'), swatches: ids }), {
  label: () => 'Change the palette',
  apply: (document, { swatches }) => {
    const named = swatches.map((id) => item(document.palette, id, 'swatch'));
    return changed(document, {
      palette: [...named, ...document.palette.filter((s) => !named.includes(s))],
    });
  },
});
