import { z } from 'zod';
import { lookSchema } from '../../document';
import { command, withNew } from '../command';
import { requirePng } from '../require-png';

export const addLook = command(
  z.strictObject({ do: z.literal('add-look'), look: lookSchema.omit({ id: true }) }),
  {
    label: ({ look }) => `Keep the look “${look.name}”`,
    apply: (document, { look }) =>
      withNew(document, (id) => ({ looks: [...document.looks, { ...look, id }] })),
    file: { isKept: true, check: (bytes) => requirePng(bytes, 'look') },
  },
);
