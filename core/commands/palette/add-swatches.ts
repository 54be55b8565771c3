import { z } from 'zod';
import { swatchSchema } from '../../document';
import { command } from '../command';

export const addSwatches = command(
  z.strictObject({
    do: z.literal('add-swatches'),
    swatches: z.array(swatchSchema.omit({ id: true })).min(1),
  }),
  {
    label: () => 'Change the palette',
    apply: (document, command) => {
      const { nextId, palette } = document;
      const swatches = command.swatches.map((s, i) => ({ ...s, id: nextId + i }));
      return {
        document: { ...document, palette: [...palette, ...swatches], nextId: nextId + swatches.length },
        ids: swatches.map((s) => s.id),
      };
    },
  },
);
