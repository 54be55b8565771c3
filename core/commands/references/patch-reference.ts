import { z } from 'zod';
import { referenceSchema } from '../../document';
import { changed, command } from '../command';
import { id } from '../fields';
import { patchItem } from '../items';

export const patchReference = command(
  z.strictObject({
    do: z.literal('patch-reference'),
    reference: id,
    patch: referenceSchema.pick({ name: true, board: true, note: true, match: true }).partial(),
  }),
  {
    label: () => 'Change the references',
    gesture: ({ reference }) => reference,
    apply: (document, { reference, patch }) =>
      changed(document, { references: patchItem(document.references, reference, 'reference', patch) }),
  },
);
