import { z } from 'zod';
import { freePlace, referenceSchema } from '../../document';
import { command, withNew } from '../command';

/** It finds its place on the board. */
export const addReference = command(
  z.strictObject({
    do: z.literal('add-reference'),
    reference: referenceSchema.pick({ name: true, width: true, height: true }),
  }),
  {
    label: () => 'Change the references',
    apply: (document, { reference }) =>
      withNew(document, (id) => ({
        references: [
          ...document.references,
          { ...reference, id, board: freePlace(document.references, reference), note: '', match: null },
        ],
      })),
    file: { isKept: true },
  },
);
