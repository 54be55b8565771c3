import { z } from 'zod';
import { seatFields } from '../../ramps';
import { command, withNew } from '../command';
import { requireRamps, seated } from './seated';

/** Puts a part or a region on a ramp, in the place of the seat that it has. */
export const seat = command(z.strictObject({ do: z.literal('seat'), ...seatFields }), {
  label: () => 'Put on a ramp',
  apply: (document, { do: _do, ...fields }) => {
    const ramps = requireRamps(document);
    return withNew(document, (id) => ({ ramps: seated(ramps, { ...fields, id }) }));
  },
});
