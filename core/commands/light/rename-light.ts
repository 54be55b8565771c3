import { z } from 'zod';
import { changed, command } from '../command';
import { id, nodeNameField } from '../fields';
import { patchItem } from '../items';

export const renameLight = command(
  z.strictObject({ do: z.literal('rename-light'), light: id, name: nodeNameField }),
  {
    label: () => 'Change the light',
    apply: (document, { light, name }) =>
      changed(document, { lights: patchItem(document.lights, light, 'light', { name }) }),
  },
);
