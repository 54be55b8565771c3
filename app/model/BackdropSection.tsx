import { useState } from 'react';
import {
  backdropsOf,
  subjectBounds,
  frameOfBackdrop,
  type Backdrop,
  type BackdropFrame,
  type UvMesh,
} from '../../core/mesh';
import type { Session } from '../project';
import { Chip } from '../shared/Chip';
import { Fold } from '../shared/Fold';
import { RenameField } from '../shared/RenameField';
import { TypedNumber } from '../shared/TypedNumber';
import { useUi } from '../shared/ui-store';
import { addBackdrop, changeBackdrop, removeBackdrop } from './backdrop-actions';

/** Flat planes behind and before the model: to be added, taken in hand and moved. */
export function BackdropSection({ session, mesh }: { readonly session: Session; readonly mesh: UvMesh }) {
  const inHand = useUi((s) => s.backdrop);
  const backdrops = backdropsOf(mesh);
  const note = backdrops.length > 0 ? String(backdrops.length) : 'planes behind and before it';
  return (
    <Fold title="Backdrops" note={note} begins={backdrops.length > 0}>
      {backdrops.map((backdrop) => (
        <BackdropRow
          key={backdrop.name}
          session={session}
          mesh={mesh}
          backdrop={backdrop}
          isInHand={inHand === backdrop.name}
        />
      ))}
      <div className="row">
        <Chip
          title="A plane behind the model, on a sheet of its own: painted like a picture, delivered with the model"
          onClick={() => void addBackdrop(session, 'behind')}
        >
          Add behind
        </Chip>
        <Chip
          title="A plane before the model, on a sheet of its own; where it is bare one looks through it"
          onClick={() => void addBackdrop(session, 'before')}
        >
          Add before
        </Chip>
      </div>
    </Fold>
  );
}

function BackdropRow({
  session,
  mesh,
  backdrop,
  isInHand,
}: {
  readonly session: Session;
  readonly mesh: UvMesh;
  readonly backdrop: Backdrop;
  readonly isInHand: boolean;
}) {
  const { name, sheet } = backdrop;
  const [isRenamed, setRenamed] = useState(false);
  return (
    <div className="backdrop" role="group" aria-label={name}>
      {isRenamed ? (
        <RenameField
          name={name}
          label="Name of the backdrop"
          most={80}
          onDone={(next) => {
            setRenamed(false);
            if (next && next !== name) void changeBackdrop(session, name, { name: next });
          }}
        />
      ) : (
        <div className="row">
          <button
            type="button"
            className="part-name"
            title="Paint on it, or on the model again. Double-click or F2 to rename"
            aria-pressed={isInHand}
            onClick={() => useUi.setState(isInHand ? { backdrop: null } : { backdrop: name, sheet })}
            onDoubleClick={() => setRenamed(true)}
            onKeyDown={(e) => {
              if (e.key !== 'F2') return;
              e.stopPropagation();
              setRenamed(true);
            }}
          >
            {name} <small>{isInHand ? 'in hand' : ''}</small>
          </button>
          <Chip
            aria-label={`Remove ${name}`}
            title="With its sheet and what is painted on it; undo brings it back"
            onClick={() => void removeBackdrop(session, name)}
          >
            Remove
          </Chip>
        </div>
      )}
      {isInHand && <Place session={session} mesh={mesh} backdrop={backdrop} />}
    </div>
  );
}

/** How it stands: numbers in model units, its distance from the middle of the model. */
function Place({
  session,
  mesh,
  backdrop,
}: {
  readonly session: Session;
  readonly mesh: UvMesh;
  readonly backdrop: Backdrop;
}) {
  const frame = frameOfBackdrop(backdrop);
  const { min, max } = subjectBounds(mesh);
  const middle = (min[2] + max[2]) / 2;
  const [x, y, z] = frame.centre;
  const change = (patch: Partial<BackdropFrame>): void => void changeBackdrop(session, backdrop.name, patch);
  return (
    <div className="backdrop-place">
      <Length label="Width" value={frame.width} least={1e-3} onChange={(width) => change({ width })} />
      <Length label="Height" value={frame.height} least={1e-3} onChange={(height) => change({ height })} />
      <Length
        label="Forward"
        title="How far before the middle of the model; below 0: behind it"
        value={z - middle}
        onChange={(away) => change({ centre: [x, y, middle + away] })}
      />
      <Length label="Up" title="Its middle" value={y} onChange={(up) => change({ centre: [x, up, z] })} />
      <Length
        label="Right"
        title="Its middle"
        value={x}
        onChange={(right) => change({ centre: [right, y, z] })}
      />
    </div>
  );
}

/** A length in model units. */
function Length({
  label,
  title,
  value,
  least = -1e6,
  onChange,
}: {
  readonly label: string;
  readonly title?: string;
  readonly value: number;
  readonly least?: number;
  readonly onChange: (value: number) => void;
}) {
  return (
    <label className="inline-number" title={title}>
      {label}
      <TypedNumber
        value={value}
        show={(v) => String(Number(v.toPrecision(4)))}
        range={[least, 1e6]}
        onChange={onChange}
      />
    </label>
  );
}
