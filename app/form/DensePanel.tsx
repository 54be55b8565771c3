import { useEffect, useState } from 'react';
import { subjectDiagonal } from '../../core/mesh';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { Slider } from '../shared/Slider';
import { undoable } from '../shared/notify';
import { useView } from '../viewport';
import { addDense, meetDense, useDense } from './dense';

/** A slider has come to rest when it hasn't moved for so long; only then all is measured anew. */
const REST_MS = 500;

/** The denser model on which form is measured, how far it may lie off, and what meets nothing of it. */
export function DensePanel({
  session,
  onClose,
}: {
  readonly session: Session;
  readonly onClose: () => void;
}) {
  const dense = useProject((s) => s.document?.dense) ?? null;
  return (
    <div
      className="dense-panel"
      role="group"
      aria-label="What form is measured on"
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
    >
      <button type="button" className="step-off" aria-label="Close" title="Close" onClick={onClose}>
        ×
      </button>
      {dense ? (
        <Present key={dense.id} session={session} dense={dense} />
      ) : (
        <>
          <p>
            Form is measured on this model. A denser one of the same shape, place and size gives its folds and
            rivets to the layers without being painted itself.
          </p>
          <Chip primary onClick={() => void addDense(session)}>
            Add a denser model…
          </Chip>
        </>
      )}
    </div>
  );
}

interface Dense {
  readonly name: string;
  readonly triangles: number;
  readonly distance: number;
}

function Present({ session, dense }: { readonly session: Session; readonly dense: Dense }) {
  const mesh = useProject((s) => s.mesh);
  const model = useProject((s) => s.document?.model);
  const { met, problem } = useDense();
  const view = useView();
  const [distance, setDistance] = useState(dense.distance);
  const diagonal = mesh ? subjectDiagonal(mesh) : 1;
  useEffect(() => setDistance(dense.distance), [dense.distance]);
  useEffect(() => void meetDense(session), [session, model, dense.distance]);
  useEffect(() => {
    view?.setOffsetHull(distance * diagonal);
    return () => view?.setOffsetHull(null);
  }, [view, distance, diagonal]);
  useEffect(() => {
    if (distance === dense.distance) return;
    const timer = setTimeout(() => void session.command({ do: 'patch-dense', distance }), REST_MS);
    return () => clearTimeout(timer);
  }, [session, distance, dense.distance]);
  const missed = met && met.covered > 0 ? met.missed / met.covered : null;
  const remove = async (): Promise<void> => {
    const done = await session.command({ do: 'set-dense', dense: null });
    if (done) undoable(session, `Form is measured on this model again.`)(done);
  };
  return (
    <>
      <p>
        Form is measured on <b>{dense.name}</b>, {dense.triangles.toLocaleString('en')} triangles.
      </p>
      <Slider
        label="Distance"
        says="How far the denser model may lie off, in parts of the model: the shell around it"
        value={distance}
        min={0.001}
        max={0.2}
        step={0.001}
        curve={2}
        show={(v) => (v * 100).toFixed(1)}
        read={(text) => Number.parseFloat(text) / 100}
        onChange={(value) => setDistance(value)}
      />
      <p role="status">
        {problem ||
          (missed === null
            ? 'Both models are being compared.'
            : missed === 0
              ? 'Every place of this model meets it.'
              : `${missed < 0.001 ? 'Less than 0.1' : (missed * 100).toFixed(1)} % of this model meets nothing of it and is filled from what lies beside. A longer distance may reach it.`)}
      </p>
      <div className="row">
        <Chip onClick={() => void addDense(session)}>Another…</Chip>
        <Chip onClick={() => void remove()}>Remove</Chip>
      </div>
    </>
  );
}
