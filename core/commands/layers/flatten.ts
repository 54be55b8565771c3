import { z } from 'zod';
import { planesGone } from '../../document';
import { planeOf } from '../../layers';
import { command, withNew } from '../command';
import { nodeNameField } from '../fields';
import { flattened, newPaint } from '../nodes';
import { emptied, wholePicture } from '../plane-work';

/** The whole picture as the only layer. */
export const flatten = command(z.strictObject({ do: z.literal('flatten'), name: nodeNameField }), {
  label: () => 'Flatten',
  apply: (document, { name }) => withNew(document, (id) => flattened(document, newPaint(id, name))),
  pixels: (_, ground) => {
    const { before, after, ids, pixels } = ground;
    const plane = planeOf(ids[0]!);
    const gone = planesGone(before, after).flatMap((p) => emptied(pixels, p));
    return { tiles: [...gone, ...wholePicture(ground, plane)], rebased: [plane] };
  },
});
