import { z } from 'zod';
import { lookSchema } from '../../document';
import { changed, command } from '../command';
import { id } from '../fields';
import { patchItem } from '../items';

export const renameLook = command(
  z.strictObject({ do: z.literal('rename-look'), look: id, name: lookSchema.shape.name }),
  {
    label: () => 'Change the looks',
    apply: (document, { look, name }) =>
      changed(document, { looks: patchItem(document.looks, look, 'look', { name }) }),
  },
);
