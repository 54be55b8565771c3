import './ramps.css';
import { useEffect } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import { RAMP_SIZES, type ProjectRamps, type RampSize } from '../../../core/ramps';
import { type Session, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { FixedMenu } from '../../shared/FixedMenu';
import { undoable } from '../../shared/notify';
import { FitDialog } from './FitDialog';
import { RampCard } from './RampCard';
import { AssignmentFields } from './SeatFields';
import { SharedMenu } from './SharedMenu';
import {
  addRamp,
  changeSheet,
  rampsByHand,
  rampsFromPaint,
  rampsFromPalette,
  rampsFromReference,
} from './ramp-actions';
import { useFollowPart, useRampHand } from './ramp-hand';
import { followShared } from './shared-sheets';

/** The sheet of colour ramps: made here, and dragged from here onto the model. */
export function RampTray({ session }: { readonly session: Session }) {
  const ramps = useProject((s) => s.document?.ramps);
  const isReady = useProject((s) => s.status === 'ready' && !s.follows);
  useFollowPart();
  useEffect(() => {
    if (isReady) void followShared(session);
  }, [session, isReady]);
  if (!ramps) return <NoSheet session={session} />;
  return (
    <footer className="ramp-tray" aria-label="Ramp sheet">
      <div className="ramp-side">
        <h2>
          Ramps <span>{ramps.ramps.length}</span>
        </h2>
        <div className="row">
          <Chip title="A ramp around the colour in hand" onClick={() => void addRamp(session)}>
            Add
          </Chip>
          <SheetMenu session={session} ramps={ramps} />
        </div>
        <small title={ramps.shared ? 'Shared with other projects' : undefined}>
          {ramps.shared ? `“${ramps.shared.name}”` : `${ramps.size} × ${ramps.size} texels`}
        </small>
      </div>
      <ul className="ramp-list">
        {ramps.ramps.map((ramp) => (
          <RampCard key={ramp.id} session={session} ramp={ramp} ramps={ramps} />
        ))}
      </ul>
      <AssignmentFields session={session} ramps={ramps} />
      <FitDialog session={session} ramps={ramps} />
    </footer>
  );
}

/** Where there is no ramp sheet: ways to one, in a line. */
function NoSheet({ session }: { readonly session: Session }) {
  return (
    <footer className="ramp-tray none" aria-label="Ramp sheet">
      <h2>Ramp sheet</h2>
      <small>A tiny sheet of colour ramps that parts lie on, for a whole set of props. None yet.</small>
      <div className="row" role="group" aria-label="Make a ramp sheet">
        <Chip
          title="Shadow, colour and light of every colour of the palette"
          onClick={() => void rampsFromPalette(session)}
        >
          From the palette
        </Chip>
        <Chip
          title="Ramps out of the main colours of the chosen reference"
          onClick={() => void rampsFromReference(session)}
        >
          From the reference
        </Chip>
        <Chip
          title="A ramp from the darkest to the lightest of what is painted on each part"
          onClick={() => void rampsFromPaint(session)}
        >
          From the paint
        </Chip>
        <Chip title="Begins with the colour in hand" onClick={() => void rampsByHand(session)}>
          By hand
        </Chip>
        <SharedMenu session={session} />
      </div>
    </footer>
  );
}

const LIE_WORDS = { columns: 'Upright, side by side', rows: 'Lying, one over another' } as const;

/** What holds for the sheet as a whole. */
function SheetMenu({ session, ramps }: { readonly session: Session; readonly ramps: ProjectRamps }) {
  return (
    <Dropdown autoClose="outside" drop="up">
      <Dropdown.Toggle as="button" type="button" className="chip">
        Sheet…
      </Dropdown.Toggle>
      <FixedMenu>
        <div className="pop sheet-pop">
          <label className="field">
            Size
            <Form.Select
              size="sm"
              value={ramps.size}
              onChange={(e) => void changeSheet(session, { size: Number(e.target.value) as RampSize })}
            >
              {RAMP_SIZES.map((n) => (
                <option key={n} value={n}>
                  {n} × {n}
                </option>
              ))}
            </Form.Select>
          </label>
          <label className="field">
            Ramps
            <Form.Select
              size="sm"
              value={ramps.lie}
              onChange={(e) =>
                void changeSheet(session, { lie: e.target.value === 'rows' ? 'rows' : 'columns' })
              }
            >
              {(['columns', 'rows'] as const).map((lie) => (
                <option key={lie} value={lie}>
                  {LIE_WORDS[lie]}
                </option>
              ))}
            </Form.Select>
          </label>
          <Chip
            title="Finds for every part the ramp and the run that come nearest to what is painted"
            onClick={() => useRampHand.setState({ fitting: true })}
          >
            Fit the paint to the ramps…
          </Chip>
          <SharedMenu session={session} />
          <Chip
            title="Every part lies on its own sheet again, with the paint that it had"
            onClick={() =>
              void session
                .command({ do: 'remove-ramps' })
                .then(undoable(session, 'The ramp sheet was removed. Parts have their own paint again.'))
            }
          >
            Remove the ramp sheet
          </Chip>
          <p className="hint-line">
            What lies on a ramp has its colour from there: painting, washes and light work on the other sheets
            only. Its paint is kept.
          </p>
        </div>
      </FixedMenu>
    </Dropdown>
  );
}
