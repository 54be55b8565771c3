import { z } from 'zod';
import { patternSchema } from '../../document';
import { command, withNew } from '../command';
import { requirePng } from '../require-png';

export const addPattern = command(
  z.strictObject({ do: z.literal('add-pattern'), pattern: patternSchema.omit({ id: true }) }),
  {
    label: ({ pattern }) => `Add ${pattern.name}`,
    apply: (document, { pattern }) =>
      withNew(document, (id) => ({ patterns: [...document.patterns, { ...pattern, id }] })),
    file: { isKept: true, check: (bytes) => requirePng(bytes, 'pattern') },
  },
);
