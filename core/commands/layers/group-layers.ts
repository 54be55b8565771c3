import { z } from 'zod';
import { insertNodes, levelOf, placeOf, withoutNodes } from '../../document';
import { command, withNew } from '../command';
import { ids, nodeNameField } from '../fields';
import { allNodes, newGroup, nodeNames } from '../nodes';

/** Puts nodes into a new group, where the highest of them stands. */
export const groupLayers = command(
  z.strictObject({ do: z.literal('group-layers'), layers: ids, name: nodeNameField }),
  {
    label: ({ layers }, before) => `Group ${nodeNames(before, layers)}`,
    apply: (document, { layers: wanted, name }) => {
      const { layers } = document;
      const chosen = allNodes(layers, wanted);
      const { into, at } = placeOf(layers, chosen.at(-1)!.id);
      const gone = new Set(wanted);
      const below = levelOf(layers, into)
        .slice(0, at + 1)
        .filter((n) => gone.has(n.id)).length;
      return withNew(document, (id) => ({
        layers: [
          ...insertNodes(withoutNodes(layers, gone), [newGroup(id, name, chosen)], {
            into,
            at: at + 1 - below,
          }),
        ],
      }));
    },
  },
);
