import { CoreError, sentenceOf } from '../../../core/errors';
import { scaleIn, type AssetSet } from '../../../core/set';
import { seenOf } from '../../set';
import { notify } from '../../shared/notify';
import { withTask } from '../../shared/tasks';
import { useEngineView } from './engine-store';

export { useSetsOf } from '../../set';

/** Puts the other projects of a set around the one that is open, or takes them away. */
export async function standSetAround(set: AssetSet, project: string, isWanted: boolean): Promise<void> {
  useEngineView.setState({ withSet: isWanted });
  if (!isWanted) return useEngineView.setState({ others: [] });
  const ids = set.projects.filter((id) => id !== project);
  try {
    await withTask('Fetching the others of the set', async (signal, progress) => {
      const others: { glb: Uint8Array; scale: number }[] = [];
      // Beside the open one, which is shown in its own units.
      const own = scaleIn(set, project);
      for (const [i, id] of ids.entries()) {
        // One that can't be read doesn't keep the others away.
        const seen = await seenOf(set, id, { signal }).catch((error: unknown) => {
          if (error instanceof CoreError && error.code === 'cancelled') throw error;
          notify(sentenceOf(error));
          return null;
        });
        if (seen) others.push({ glb: seen.glb, scale: scaleIn(set, id) / own });
        progress((i + 1) / ids.length);
        if (useEngineView.getState().withSet) useEngineView.setState({ others: [...others] });
      }
    });
  } catch {
    useEngineView.setState({ withSet: false, others: [] });
  }
}
