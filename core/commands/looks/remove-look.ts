import { z } from 'zod';
import { changed, command } from '../command';
import { id } from '../fields';
import { withoutItem } from '../items';

export const removeLook = command(z.strictObject({ do: z.literal('remove-look'), look: id }), {
  label: () => 'Change the looks',
  apply: (document, { look }) => changed(document, { looks: withoutItem(document.looks, look, 'look') }),
});
