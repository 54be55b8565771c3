import { z } from 'zod';
import { regionSchema } from '../../region';
import { changed, command } from '../command';
import { id } from '../fields';
import { patchItem } from '../items';

export const patchRegion = command(
  z.strictObject({
    do: z.literal('patch-region'),
    region: id,
    patch: regionSchema.omit({ id: true }).partial(),
  }),
  {
    label: () => 'Change the regions',
    gesture: ({ region }) => region,
    apply: (document, { region, patch }) =>
      changed(document, { regions: patchItem(document.regions, region, 'region', patch) }),
  },
);
