import { CoreError } from '../../errors';
import type { ProjectDocument } from '../../document';
import { sameTarget } from '../../layers';
import type { ProjectRamps, RampAssignment } from '../../ramps';

/** The ramp sheet. @throws CoreError `bad-argument` if there is none */
export function requireRamps({ ramps }: ProjectDocument): ProjectRamps {
  if (!ramps) throw new CoreError('bad-argument', 'The project has no ramp sheet yet. Make one first.');
  return ramps;
}

/** @throws CoreError `bad-argument` if none of them is there */
export function requireSeats({ seats }: ProjectRamps, wanted: readonly number[]): void {
  if (!seats.some((s) => wanted.includes(s.id)))
    throw new CoreError('bad-argument', 'That lies on no ramp any more.');
}

/** With a seat in the place of the one of the same part or region. */
export const seated = (ramps: ProjectRamps, seat: RampAssignment): ProjectRamps => ({
  ...ramps,
  seats: [...ramps.seats.filter((s) => !sameTarget(s.of, seat.of)), seat],
});
