import { z } from 'zod';
import { seatFields } from '../../ramps';
import { regionSchema } from '../../region';
import { command } from '../command';
import { requireRamps, seated } from './seated';

const { of: _of, ...withoutOf } = seatFields;

/** Keeps faces as a region and puts that on a ramp. */
export const seatFaces = command(
  z.strictObject({ do: z.literal('seat-faces'), region: regionSchema.omit({ id: true }), ...withoutOf }),
  {
    label: () => 'Put on a ramp',
    apply: (document, { do: _do, region, ...fields }) => {
      const ramps = requireRamps(document);
      const { nextId, regions } = document;
      const [of, id] = [nextId, nextId + 1];
      return {
        document: {
          ...document,
          regions: [...regions, { ...region, id: of }],
          ramps: seated(ramps, { ...fields, of: { region: of }, id }),
          nextId: nextId + 2,
        },
        ids: [of, id],
      };
    },
  },
);
