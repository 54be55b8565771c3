import { z } from 'zod';
import { withoutNodes } from '../../document';
import { changed, command } from '../command';
import { ids } from '../fields';
import { allNodes, nodeNames, withoutGone } from '../nodes';
import { emptyGone } from '../plane-work';

/** Groups go with all that is in them. */
export const removeLayers = command(z.strictObject({ do: z.literal('remove-layers'), layers: ids }), {
  label: ({ layers }, before) => `Remove ${nodeNames(before, layers)}`,
  apply: (document, { layers }) => {
    allNodes(document.layers, layers);
    return changed(document, withoutGone(document, withoutNodes(document.layers, new Set(layers))));
  },
  pixels: (_, ground) => emptyGone(ground),
});
