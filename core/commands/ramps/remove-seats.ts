import { z } from 'zod';
import { changed, command } from '../command';
import { ids } from '../fields';
import { requireRamps, requireSeats } from './seated';

export const removeSeats = command(z.strictObject({ do: z.literal('remove-seats'), seats: ids }), {
  label: () => 'Remove from the ramps',
  apply: (document, { seats }) => {
    const ramps = requireRamps(document);
    requireSeats(ramps, seats);
    return changed(document, {
      ramps: { ...ramps, seats: ramps.seats.filter((s) => !seats.includes(s.id)) },
    });
  },
});
