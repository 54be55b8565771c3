import { z } from 'zod';
import { DETAILS } from '../../document';
import { command } from '../command';
import { at, into, nodeNameField } from '../fields';
import { newGroup, withNode } from '../nodes';

export const addGroup = command(
  z.strictObject({
    do: z.literal('add-group'),
    name: nodeNameField,
    /** The mask of the detail sheet that it goes into. */
    detail: z.enum(DETAILS).exactOptional(),
    into,
    at,
  }),
  {
    label: ({ name }) => `Add ${name}`,
    apply: (document, { name, detail = null, into, at }) =>
      withNode(document, (id) => ({ ...newGroup(id, name, []), detail }), into, at),
  },
);
