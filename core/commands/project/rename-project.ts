import { z } from 'zod';
import { documentSchema } from '../../document';
import { changed, command } from '../command';

export const renameProject = command(
  z.strictObject({ do: z.literal('rename-project'), name: documentSchema.shape.name }),
  {
    label: () => 'Rename project',
    apply: (document, { name }) => changed(document, { name }),
  },
);
