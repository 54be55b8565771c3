import { z } from 'zod';
import { insertNodes, nodesOf, withoutNodes } from '../../document';
import { CoreError } from '../../errors';
import { changed, command } from '../command';
import { at, ids, into } from '../fields';
import { allNodes, nodeNames } from '../nodes';

/** `at`: the place from the ground among those that stay in the group. */
export const moveLayers = command(z.strictObject({ do: z.literal('move-layers'), layers: ids, into, at }), {
  label: ({ layers }, before) => `Move ${nodeNames(before, layers)}`,
  apply: (document, { layers: wanted, into, at }) => {
    const chosen = allNodes(document.layers, wanted);
    const inside = new Set(chosen.flatMap((n) => [...nodesOf([n])].map(({ node }) => node.id)));
    if (into !== null && inside.has(into)) {
      throw new CoreError('bad-argument', 'A group can’t be put into itself.');
    }
    const rest = withoutNodes(document.layers, new Set(wanted));
    return changed(document, { layers: [...insertNodes(rest, chosen, { into, at })] });
  },
});
