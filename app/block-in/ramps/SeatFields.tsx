import { useMemo } from 'react';
import { Form } from 'react-bootstrap';
import type { ProjectDocument } from '../../../core/document';
import type { ProjectRamps, RampAssignment, AssignedMapping } from '../../../core/ramps';
import { type Session, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { Slider } from '../../shared/Slider';
import { flipSeat, patchSeat, takeOff } from './ramp-actions';
import { useRampHand, useSeatInHand } from './ramp-hand';
import { isFlatRun } from './run-geometry';

const NO_REGIONS: ProjectDocument['regions'] = [];

const SIDES: readonly (readonly [title: string, says: string, direction: [number, number, number]])[] = [
  ['Forward', 'From the back to the front', [0, 0, 1]],
  ['Across', 'From the left to the right', [1, 0, 0]],
  ['Upward', 'From below to above', [0, 1, 0]],
];

const ENDS = [
  {
    label: 'Begins',
    says: 'Where on the ramp the run begins',
    end: (seat: RampAssignment) => seat.from,
    set: (from: number) => ({ from }),
  },
  {
    label: 'Ends',
    says: 'Where on the ramp the run ends',
    end: (seat: RampAssignment) => seat.to,
    set: (to: number) => ({ to }),
  },
] as const;

const isAlong = (run: AssignedMapping, direction: readonly number[]): boolean =>
  run.kind === 'straight' && run.direction.every((x, k) => x === direction[k]);

const ofRamp = {
  show: (v: number) => `${Math.round(v * 100)} %`,
  read: (text: string) => Number.parseFloat(text) / 100,
};

/** How what is in hand lies on its ramp. */
export function AssignmentFields({
  session,
  ramps,
}: {
  readonly session: Session;
  readonly ramps: ProjectRamps;
}) {
  const seat = useSeatInHand();
  const regions = useProject((s) => s.document?.regions) ?? NO_REGIONS;
  const mesh = useProject((s) => s.mesh);
  const isFlat = useMemo(
    () => mesh !== null && seat !== null && isFlatRun(mesh, seat, regions),
    [mesh, seat, regions],
  );
  const aims = useRampHand((s) => s.aims);
  if (ramps.seats.length === 0) {
    return (
      <p className="ramp-hint">
        Drag a ramp onto a part, or choose parts or faces and click one. Island, Area and Shell above choose
        up to a seam: there the tone steps hard.
      </p>
    );
  }
  const nameOf = ({ of }: RampAssignment): string =>
    'part' in of ? of.part : (regions.find((r) => r.id === of.region)?.name ?? 'a region');
  const patch = (change: Parameters<typeof patchSeat>[2], g: string | null = null): void => {
    if (seat) patchSeat(session, seat.id, change, g);
  };
  return (
    <div className="seat-fields" role="group" aria-label="How it lies on its ramp">
      <div className="row">
        <Form.Select
          size="sm"
          aria-label="What lies on a ramp"
          value={seat?.id ?? ''}
          onChange={(e) =>
            useRampHand.setState({ seat: e.target.value === '' ? null : Number(e.target.value) })
          }
        >
          <option value="">{ramps.seats.length} on ramps: choose one</option>
          {ramps.seats.map((s) => (
            <option key={s.id} value={s.id}>
              {nameOf(s)}
            </option>
          ))}
        </Form.Select>
        {seat && (
          <Form.Select
            size="sm"
            aria-label="Its ramp"
            value={seat.ramp}
            onChange={(e) => patch({ ramp: Number(e.target.value) })}
          >
            {ramps.ramps.map((ramp) => (
              <option key={ramp.id} value={ramp.id}>
                on {ramp.name}
              </option>
            ))}
          </Form.Select>
        )}
      </div>
      {seat && (
        <>
          <div className="row" role="group" aria-label="Direction of the run">
            {SIDES.map(([title, says, direction]) => (
              <Chip
                key={title}
                on={isAlong(seat.run, direction)}
                title={says}
                onClick={() => patch({ run: { kind: 'straight', direction } })}
              >
                {title}
              </Chip>
            ))}
            <Chip
              on={aims}
              title="Drag on the model from where the first colour is to be to where the last is"
              onClick={() => useRampHand.setState({ aims: !aims })}
            >
              Drag
            </Chip>
            <Chip
              on={seat.run.kind === 'round'}
              title="By the distance from a place, which is dragged on the model"
              onClick={() => patch({ run: { kind: 'round', centre: [0, 0, 0] } })}
            >
              Round
            </Chip>
            <Chip
              on={seat.run.kind === 'along'}
              title="By the way over the surface from a place, which is dragged on the model"
              onClick={() => patch({ run: { kind: 'along', from: [0, 0, 0] } })}
            >
              Along
            </Chip>
          </div>
          {isFlat ? (
            <p className="ramp-flat" role="status">
              It has no extent that way: all of it has one colour. Choose another direction.
            </p>
          ) : (
            <div className="seat-sliders">
              {ENDS.map(({ end, label, says, set }) => (
                <Slider
                  key={label}
                  label={label}
                  says={says}
                  value={end(seat)}
                  min={-1}
                  max={2}
                  step={0.01}
                  {...ofRamp}
                  onChange={(value, g) => patch(set(value), g)}
                />
              ))}
            </div>
          )}
          <div className="row">
            <Chip title="Light and dark change places" onClick={() => flipSeat(session)}>
              Flip
            </Chip>
            <Chip
              title="A ring of faces that is slid along the ramp on its own, to widen its light or dark part"
              onClick={() => patch({ rings: withRing(seat.rings) })}
            >
              Add a ring
            </Chip>
            {seat.rings.length > 0 && (
              <Chip title="The run is even again" onClick={() => patch({ rings: [] })}>
                No rings
              </Chip>
            )}
            <Chip title="It gets its own paint again" onClick={() => takeOff(session)}>
              Off its ramp
            </Chip>
          </div>
        </>
      )}
    </div>
  );
}

/** Another ring in the widest gap, where the run puts it. */
function withRing(rings: RampAssignment['rings']): [number, number][] {
  const all = [0, ...rings.map(([at]) => at), 1];
  const gaps = all.slice(1).map((at, i) => at - all[i]!);
  const widest = gaps.indexOf(Math.max(...gaps));
  const at = (all[widest]! + all[widest + 1]!) / 2;
  return [...rings, [at, 0] as [number, number]].sort((a, b) => a[0] - b[0]);
}
