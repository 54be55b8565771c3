import { z } from 'zod';
import { documentSchema } from '../../document';
import { changed, command } from '../command';
import { given } from '../items';

export const setLayout = command(
  z.strictObject({
    do: z.literal('set-layout'),
    seams: documentSchema.shape.seams.optional(),
    paintEdges: documentSchema.shape.paintEdges.optional(),
    foundSeams: documentSchema.shape.foundSeams.optional(),
    seamPoints: documentSchema.shape.seamPoints.optional(),
    seamWishes: documentSchema.shape.seamWishes.optional(),
    weights: documentSchema.shape.weights.optional(),
    pins: documentSchema.shape.pins.optional(),
  }),
  {
    label: ({ seams, seamWishes, seamPoints, paintEdges, weights }) => {
      if (seams) return 'Change the seams';
      if (seamWishes) return 'Change where seams are wanted';
      if (seamPoints) return 'Let go of seams';
      if (paintEdges) return 'Change paint edges';
      return weights ? 'Change the weight of parts' : 'Pin islands';
    },
    apply: (document, { do: _do, ...changes }) => changed(document, given(changes)),
  },
);
