import { z } from 'zod';
import { requireNode } from '../../document';
import { planeOf } from '../../layers';
import { command } from '../command';
import { at, id, into, newLayer } from '../fields';
import { withNode } from '../nodes';
import { copied } from '../plane-work';

export const addLayer = command(
  z.strictObject({
    do: z.literal('add-layer'),
    layer: newLayer,
    into,
    at,
    /** A paint layer whose pixels the new one begins with. */
    copyPixelsOf: id.optional(),
  }),
  {
    label: ({ layer }) => `Add ${layer.name}`,
    apply: (document, { layer, into, at, copyPixelsOf }) => {
      if (copyPixelsOf !== undefined) requireNode(document.layers, copyPixelsOf);
      return withNode(document, (id) => ({ ...layer, id }), into, at);
    },
    pixels: ({ copyPixelsOf }, { ids, pixels }) => {
      if (copyPixelsOf === undefined) return { tiles: [], rebased: [] };
      const to = planeOf(ids[0]!);
      return { tiles: copied(pixels, planeOf(copyPixelsOf), to), rebased: [to] };
    },
  },
);
