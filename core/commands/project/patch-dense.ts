import { z } from 'zod';
import { denseSchema } from '../../document';
import { CoreError } from '../../errors';
import { changed, command } from '../command';

export const patchDense = command(
  z.strictObject({ do: z.literal('patch-dense'), distance: denseSchema.shape.distance }),
  {
    label: () => 'Change the denser model',
    apply: (document, { distance }) => {
      if (!document.dense) throw new CoreError('bad-argument', 'There is no denser model. Add one first.');
      return changed(document, { dense: { ...document.dense, distance } });
    },
  },
);
