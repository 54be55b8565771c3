import { z } from 'zod';
import { changed, command } from '../command';
import { id } from '../fields';
import { withoutItem } from '../items';

export const removeReference = command(z.strictObject({ do: z.literal('remove-reference'), reference: id }), {
  label: () => 'Change the references',
  apply: (document, { reference }) =>
    changed(document, { references: withoutItem(document.references, reference, 'reference') }),
});
