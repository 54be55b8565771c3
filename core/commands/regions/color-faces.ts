import { z } from 'zod';
import { hexColor } from '../../color';
import { replaceNode, requireNode } from '../../document';
import { CoreError } from '../../errors';
import { withLocalColor } from '../../layers';
import { regionSchema } from '../../region';
import { command, withNew } from '../command';
import { id } from '../fields';

/** Keeps faces as a region and gives it a colour in a local-colour layer. */
export const colorFaces = command(
  z.strictObject({
    do: z.literal('color-faces'),
    layer: id,
    region: regionSchema.omit({ id: true }),
    color: hexColor,
    swatch: id.nullable().default(null),
  }),
  {
    label: ({ region }) => `Colour ${region.name}`,
    apply: (document, { layer, region, color, swatch }) => {
      const node = requireNode(document.layers, layer);
      if (node.kind !== 'local') {
        throw new CoreError(
          'bad-argument',
          `“${node.name}” holds no local colours. Choose a layer that does.`,
        );
      }
      return withNew(document, (id) => ({
        regions: [...document.regions, { ...region, id }],
        layers: [
          ...replaceNode(document.layers, node.id, () => ({
            ...node,
            ...withLocalColor(node, { region: id }, color, swatch),
          })),
        ],
      }));
    },
  },
);
