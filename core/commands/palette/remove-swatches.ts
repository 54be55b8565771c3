import { z } from 'zod';
import { changed, command } from '../command';
import { ids } from '../fields';

export const removeSwatches = command(z.strictObject({ do: z.literal('remove-swatches'), swatches: ids }), {
  label: () => 'Change the palette',
  apply: (document, { swatches }) =>
    changed(document, { palette: document.palette.filter((s) => !swatches.includes(s.id)) }),
});
