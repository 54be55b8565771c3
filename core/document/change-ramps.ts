import { CoreError } from '../errors';
import { sameTarget } from '../layers';
import type { ProjectRamps, Seat } from '../ramps';
import type { SingleCommand } from './commands';
import type { ProjectDocument } from './schema';

type RampCommand = Extract<
  SingleCommand,
  { do: 'set-ramps' | 'remove-ramps' | 'seat' | 'seat-faces' | 'patch-seat' | 'remove-seats' }
>;

/** As `Applied`. */
interface Changed {
  readonly document: ProjectDocument;
  readonly ids: readonly number[];
}

const NEW: ProjectRamps = { size: 64, lie: 'columns', shared: null, ramps: [], seats: [] };

/**
 * What commands about the ramp sheet do.
 *
 * @throws CoreError `bad-argument` if there is no sheet, or what is named isn't there
 */
export function changeRamps(document: ProjectDocument, command: RampCommand): Changed {
  let { nextId } = document;
  const ids: number[] = [];
  const fresh = (): number => {
    ids.push(nextId);
    return nextId++;
  };
  const put = (ramps: ProjectRamps | null, more: Partial<ProjectDocument> = {}): Changed => ({
    document: { ...document, ...more, ramps, nextId },
    ids,
  });
  if (command.do === 'set-ramps') {
    const present = document.ramps ?? NEW;
    const { size = present.size, lie = present.lie, shared = present.shared } = command;
    const ramps = command.ramps
      ? command.ramps.map((ramp) => ({ ...ramp, id: ramp.id ?? fresh() }))
      : present.ramps;
    const left = new Set(ramps.map((r) => r.id));
    const seats = present.seats.filter((s) => left.has(s.ramp));
    return put({ size, lie, shared, ramps, seats });
  }
  const { ramps } = document;
  if (!ramps) throw new CoreError('bad-argument', 'The project has no ramp sheet yet. Make one first.');
  switch (command.do) {
    case 'remove-ramps':
      return put(null);
    case 'seat': {
      const { do: _do, ...fields } = command;
      return put(seated(ramps, { ...fields, id: fresh() }));
    }
    case 'seat-faces': {
      const { do: _do, region, ...fields } = command;
      const id = fresh();
      const seat: Seat = { ...fields, of: { region: id }, id: fresh() };
      return put(seated(ramps, seat), { regions: [...document.regions, { ...region, id }] });
    }
    case 'patch-seat': {
      if (!ramps.seats.some((s) => s.id === command.seat)) throw notThere();
      const patch = Object.fromEntries(Object.entries(command.patch).filter(([, v]) => v !== undefined));
      return put({
        ...ramps,
        seats: ramps.seats.map((s) => (s.id === command.seat ? { ...s, ...patch } : s)),
      });
    }
    case 'remove-seats': {
      const gone = new Set(command.seats);
      if (!ramps.seats.some((s) => gone.has(s.id))) throw notThere();
      return put({ ...ramps, seats: ramps.seats.filter((s) => !gone.has(s.id)) });
    }
  }
}

const notThere = (): CoreError => new CoreError('bad-argument', 'That lies on no ramp any more.');

/** With a seat in the place of the one of the same part or region. */
const seated = (ramps: ProjectRamps, seat: Seat): ProjectRamps => ({
  ...ramps,
  seats: [...ramps.seats.filter((s) => !sameTarget(s.of, seat.of)), seat],
});

/** Ramps without what holds for a region. */
export const rampsWithoutRegion = (ramps: ProjectRamps | null, region: number): ProjectRamps | null =>
  ramps && {
    ...ramps,
    seats: ramps.seats.filter(({ of }) => !('region' in of && of.region === region)),
  };
