import { z } from 'zod';
import { planeOf } from '../../layers';
import { command } from '../command';
import { nodeNameField } from '../fields';
import { newPaint, withNode } from '../nodes';
import { wholePicture } from '../plane-work';

/** The whole picture as a new paint layer on top. */
export const mergeVisible = command(z.strictObject({ do: z.literal('merge-visible'), name: nodeNameField }), {
  label: () => 'Merge what shows',
  apply: (document, { name }) => withNode(document, (id) => newPaint(id, name), null, document.layers.length),
  pixels: (_, ground) => {
    const plane = planeOf(ground.ids[0]!);
    return { tiles: wholePicture(ground, plane), rebased: [plane] };
  },
});
