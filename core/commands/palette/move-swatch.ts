import { z } from 'zod';
import { changed, command } from '../command';
import { at, id } from '../fields';
import { item } from '../items';

export const moveSwatch = command(z.strictObject({ do: z.literal('move-swatch'), swatch: id, to: at }), {
  label: () => 'Change the palette',
  apply: (document, { swatch: wanted, to }) => {
    const swatch = item(document.palette, wanted, 'swatch');
    const rest = document.palette.filter((s) => s !== swatch);
    return changed(document, { palette: rest.toSpliced(to, 0, swatch) });
  },
});
