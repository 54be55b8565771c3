import { z } from 'zod';
import { sheetSchema } from '../../document';
import { CoreError } from '../../errors';
import { changed, command } from '../command';
import { at } from '../fields';

export const renameSheet = command(
  z.strictObject({ do: z.literal('rename-sheet'), sheet: at, name: sheetSchema.shape.name }),
  {
    label: () => 'Rename a sheet',
    apply: (document, { sheet: index, name }) => {
      const sheet = document.sheets[index];
      if (!sheet) throw new CoreError('bad-argument', 'That sheet is no longer there.');
      if (document.sheets.some((s) => s !== sheet && s.name === name)) {
        throw new CoreError(
          'bad-argument',
          `Another sheet is called “${name}” already. Choose another name.`,
        );
      }
      return changed(document, { sheets: document.sheets.with(index, { ...sheet, name }) });
    },
  },
);
