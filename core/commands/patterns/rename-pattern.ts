import { z } from 'zod';
import { patternSchema } from '../../document';
import { changed, command } from '../command';
import { id } from '../fields';
import { patchItem } from '../items';

export const renamePattern = command(
  z.strictObject({ do: z.literal('rename-pattern'), pattern: id, name: patternSchema.shape.name }),
  {
    label: () => 'Change the patterns',
    apply: (document, { pattern, name }) =>
      changed(document, { patterns: patchItem(document.patterns, pattern, 'pattern', { name }) }),
  },
);
