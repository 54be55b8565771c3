import { z } from 'zod';
import { regionSchema } from '../../region';
import { command, withNew } from '../command';

export const addRegion = command(
  z.strictObject({ do: z.literal('add-region'), region: regionSchema.omit({ id: true }) }),
  {
    label: () => 'Change the regions',
    apply: (document, { region }) =>
      withNew(document, (id) => ({ regions: [...document.regions, { ...region, id }] })),
  },
);
