import { useLiveQuery } from 'dexie-react-hooks';
import { CoreError, sentenceOf } from '../../core/errors';
import { NOTHING_SHARED, parseSet, SET_VERSION, type AssetSet } from '../../core/set';
import { type SetPicture } from '../../workers';
import { storageError } from '../../storage';
import { notify } from '../shared/notify';
import { store } from '../shared/platform';

/** The sets of this browser, the newest first; those that can't be read are left out. */
export async function allSets(): Promise<AssetSet[]> {
  const rows = await store.sets.orderBy('updatedAt').reverse().toArray();
  return rows.flatMap((row) => {
    try {
      return [parseSet(row.set)];
    } catch {
      return [];
    }
  });
}

/** The sets that a project belongs to. */
export const useSetsOf = (project: string): readonly AssetSet[] =>
  useLiveQuery(async () => {
    const sets = await allSets().catch(() => []);
    return sets.filter((set) => set.projects.includes(project));
  }, [project]) ?? [];

/** A set, as it is kept; undefined while it is looked for. @returns a sentence where it can't be read */
export const useSet = (id: string): AssetSet | string | undefined =>
  useLiveQuery(async () => {
    try {
      const row = await store.sets.get(id);
      return row ? parseSet(row.set) : 'That set is not in this browser. Choose one from the start page.';
    } catch (error) {
      return sentenceOf(error instanceof CoreError ? error : storageError(error));
    }
  }, [id]);

/** Keeps a set. What can't be kept is told. @returns whether it was */
export async function keepSet(set: AssetSet): Promise<boolean> {
  try {
    const checked = parseSet(set);
    await store.sets.put({ id: set.id, name: set.name, updatedAt: Date.now(), set: checked });
    return true;
  } catch (error) {
    notify(storageError(error).message);
    return false;
  }
}

/** Changes a set as it is kept now. @param pictures that it names from now on */
export async function changeSet(
  id: string,
  change: (set: AssetSet) => AssetSet,
  pictures: readonly SetPicture[] = [],
): Promise<boolean> {
  // Read and written as one: another tab may change it too.
  return store.transaction('rw', store.sets, store.setPictures, async () => {
    await store.setPictures.bulkPut(pictures.map(([hash, bytes]) => ({ hash, bytes })));
    const row = await store.sets.get(id);
    return row ? keepSet(change(parseSet(row.set))) : false;
  });
}

/** Begins a set. @returns its id; null if it can't be kept, which is told */
export async function newSet(name: string, projects: readonly string[]): Promise<string | null> {
  const id = crypto.randomUUID();
  const set: AssetSet = {
    version: SET_VERSION,
    id,
    name,
    projects: [...projects],
    scales: [],
    shared: NOTHING_SHARED,
  };
  return (await keepSet(set)) ? id : null;
}
