import { z } from 'zod';
import { seatFields } from '../../ramps';
import { changed, command } from '../command';
import { id } from '../fields';
import { given } from '../items';
import { requireRamps, requireSeats } from './seated';

export const patchSeat = command(
  z.strictObject({
    do: z.literal('patch-seat'),
    seat: id,
    patch: z.strictObject(seatFields).omit({ of: true }).partial(),
  }),
  {
    label: () => 'Change a run on a ramp',
    gesture: ({ seat }) => seat,
    apply: (document, { seat, patch }) => {
      const ramps = requireRamps(document);
      requireSeats(ramps, [seat]);
      const seats = ramps.seats.map((s) => (s.id === seat ? { ...s, ...given(patch) } : s));
      return changed(document, { ramps: { ...ramps, seats } });
    },
  },
);
