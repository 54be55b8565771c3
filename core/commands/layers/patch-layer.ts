import { z } from 'zod';
import { replaceNode } from '../../document';
import { changed, command } from '../command';
import { id, nodePatch } from '../fields';
import { nodeName, patched } from '../nodes';
import { emptyGone } from '../plane-work';

export const patchLayer = command(
  z.strictObject({ do: z.literal('patch-layer'), layer: id, patch: nodePatch }),
  {
    label: ({ layer }, { layers }) => `Change ${nodeName(layers, layer)}`,
    gesture: ({ layer }) => layer,
    apply: (document, { layer, patch }) =>
      changed(document, { layers: [...replaceNode(document.layers, layer, (n) => patched(n, patch))] }),
    pixels: (_, ground) => emptyGone(ground),
  },
);
