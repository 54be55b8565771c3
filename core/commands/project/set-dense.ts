import { z } from 'zod';
import { denseSchema } from '../../document';
import { changed, command, withNew } from '../command';

export const setDense = command(
  z.strictObject({
    do: z.literal('set-dense'),
    /** Null: cues are measured on the model itself. */ dense: denseSchema.omit({ id: true }).nullable(),
  }),
  {
    label: () => 'Change the denser model',
    apply: (document, { dense }) =>
      dense ? withNew(document, (id) => ({ dense: { ...dense, id } })) : changed(document, { dense: null }),
    file: { isKept: true },
  },
);
