import { useEffect, useState } from 'react';
import type { PartFit, ProjectRamps } from '../../../core/ramps';
import { CoreError, sentenceOf } from '../../../core/errors';
import { type Session, useProject } from '../../project';
import { FormDialog } from '../../shared/FormDialog';
import { notify, undoable } from '../../shared/notify';
import { jobPool } from '../../shared/platform';
import { withTask } from '../../shared/tasks';
import { albedoRows } from './ramp-actions';
import { rampGradient } from './RampCard';
import { useRampHand } from './ramp-hand';

/** Differences that are told by a word, CIEDE2000 (common practice: about 2 is just seen, 5 is plain). */
const wordFor = (deltaE: number): string =>
  deltaE < 2 ? 'hardly seen' : deltaE < 5 ? 'near' : deltaE < 12 ? 'plainly different' : 'far off';

async function fitParts(session: Session, ramps: ProjectRamps): Promise<PartFit[] | null> {
  const { surface } = useProject.getState();
  if (!surface) return null;
  try {
    return await withTask('Fitting the paint to the ramps', async (signal) => {
      const rows = await albedoRows(session);
      if (!rows) throw new CoreError('cancelled', 'The paint could not be read. Try again.');
      return jobPool.run('fitToRamps', { surface, rows, ramps: ramps.ramps }, { signal });
    });
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    return null;
  }
}

/** What every part would lie on, how far that is from what is painted, and the question which of them are to. */
export function FitDialog({ session, ramps }: { readonly session: Session; readonly ramps: ProjectRamps }) {
  const fitting = useRampHand((s) => s.fitting);
  const [fits, setFits] = useState<readonly PartFit[] | null>(null);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    if (!fitting) return;
    let isOpen = true;
    setFits(null);
    setLeft(new Set());
    void fitParts(session, ramps).then((found) => {
      if (!isOpen) return;
      if (found) setFits(found);
      else useRampHand.setState({ fitting: false });
    });
    return () => void (isOpen = false);
    // The ramps that there are when it is asked for count.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [fitting, session]);
  if (!fitting) return null;
  const close = (): void => useRampHand.setState({ fitting: false });
  const taken = (fits ?? []).filter(({ part }) => !left.has(part));
  const put = async (): Promise<void> => {
    close();
    const commands = taken.map(({ part, fit: { ramp, run, from, to } }) => ({
      do: 'seat' as const,
      of: { part },
      ramp,
      run,
      from,
      to,
      rings: [],
    }));
    const label = 'Fit the paint to the ramps';
    const done = await session.command({ do: 'several', label, commands });
    undoable(session, `${commands.length} parts lie on ramps now. Their paint is kept.`)(done);
  };
  const mean = taken.reduce((sum, { fit }) => sum + fit.deltaE, 0) / (taken.length || 1);
  return (
    <FormDialog
      title="The paint on ramps"
      submit={`Put ${taken.length} on ramps`}
      disabled={taken.length === 0}
      busy={fits === null}
      onSubmit={() => void put()}
      onClose={close}
    >
      <p>
        {fits === null
          ? 'Each part is tried on every ramp…'
          : `How far each part would be from what is painted, ΔE (CIEDE2000). The mean of those that are ticked is ${mean.toFixed(1)}.`}
      </p>
      <ul className="fit-list">
        {fits?.map(({ part, fit }) => {
          const ramp = ramps.ramps.find((r) => r.id === fit.ramp);
          return (
            <li key={part}>
              <label>
                <input
                  type="checkbox"
                  checked={!left.has(part)}
                  onChange={() => {
                    const next = new Set(left);
                    if (!next.delete(part)) next.add(part);
                    setLeft(next);
                  }}
                />
                {part}
              </label>
              <i style={{ background: rampGradient(ramp?.colors ?? [], '90deg') }} aria-hidden />
              <span>{ramp?.name}</span>
              <b>{fit.deltaE.toFixed(1)}</b>
              <small>{wordFor(fit.deltaE)}</small>
            </li>
          );
        })}
      </ul>
    </FormDialog>
  );
}
