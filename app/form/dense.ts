import { create } from 'zustand';
import type { Met } from '../../core/cues';
import { sentenceOf } from '../../core/errors';
import { modelEndings } from '../../core/formats';
import { type Session, useProject } from '../project';
import { bytesOf, chooseFiles } from '../shared/files';
import { notify, undoable } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { withTask } from '../shared/tasks';

/** How far a denser model may lie off at first, parts of the diagonal: more than reducing a model moves it. */
const USUAL_DISTANCE = 0.02;

/** How the denser model is met, for the one and the distance that the name tells. */
interface DenseState {
  readonly name: string;
  readonly met: Met | null;
  /** Why it can't be told. */
  readonly problem: string;
}

export const useDense = create<DenseState>(() => ({ name: '', met: null, problem: '' }));

/** Lets a model be chosen on which cues are measured from then on. */
export async function addDense(session: Session): Promise<void> {
  const files = await chooseFiles(modelEndings(true).join(), true);
  const main = files.find((f) => !/\.bin$/i.test(f.name));
  if (!main) return;
  try {
    const { packed, triangles } = await withTask(`Reading ${main.name}`, async (signal) => {
      const companions = new Map<string, Uint8Array>();
      for (const file of files) if (file !== main) companions.set(file.name, await bytesOf(file));
      const job = { name: main.name, bytes: await bytesOf(main), companions };
      return jobPool.run('denseModel', job, { signal });
    });
    const name = main.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Denser model';
    const dense = { name, triangles, distance: USUAL_DISTANCE };
    const done = await session.attach({ do: 'set-dense', dense }, packed);
    if (done) undoable(session, `Form is measured on “${name}” from now on.`)(done);
  } catch (error) {
    notify(`${main.name}: ${sentenceOf(error)}`);
  }
}

/** Finds out how much of this model meets nothing of the denser one. */
export async function meetDense(session: Session): Promise<void> {
  const { document } = useProject.getState();
  if (!document?.dense) return;
  const name = `${document.model} ${document.dense.id} ${document.dense.distance}`;
  if (useDense.getState().name === name) return;
  useDense.setState({ name, met: null, problem: '' });
  const tell = (state: Partial<DenseState>): void => {
    if (useDense.getState().name === name) useDense.setState(state);
  };
  try {
    const met = await withTask('Comparing both models', (signal) => session.meetDense(signal));
    tell({ met });
  } catch (error) {
    tell({ problem: sentenceOf(error), name: '' });
  }
}
