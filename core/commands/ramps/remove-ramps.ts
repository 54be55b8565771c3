import { z } from 'zod';
import { changed, command } from '../command';
import { requireRamps } from './seated';

export const removeRamps = command(z.strictObject({ do: z.literal('remove-ramps') }), {
  label: () => 'Change the ramp sheet',
  apply: (document) => {
    requireRamps(document);
    return changed(document, { ramps: null });
  },
});
