import { CoreError, sentenceOf } from '../../core/errors';
import { consistencyOf, parseSet, styleGuide, type AssetSet } from '../../core/set';
import { pictureKind } from '../../core/formats';
import { download, fileNameOf } from '../shared/files';
import { notify } from '../shared/notify';
import { deliverPool, setPool, store } from '../shared/platform';
import { withTask } from '../shared/tasks';
import type { Member } from './use-seen';

/** Does something long; what goes wrong is told, what was stopped isn't. */
async function told(work: Promise<void>): Promise<void> {
  try {
    await work;
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

const TYPES: Readonly<Record<string, string>> = { JPEG: 'image/jpeg', WebP: 'image/webp', PNG: 'image/png' };

/** The style guide of a set, as one page that opens anywhere. */
export async function saveGuide(set: AssetSet, members: readonly Member[]): Promise<void> {
  const seen = members.filter((m) => m.seen);
  const assets = seen.map(({ name, seen: one }) => ({ ...one!, name }));
  const rows = await store.setPictures
    .bulkGet(set.shared.references.map((r) => r.hash))
    .catch((): never[] => {
      notify('The references of the set can’t be read just now, so the guide has none.');
      return [];
    });
  const references = set.shared.references.flatMap(({ name }, i) => {
    const bytes = rows[i]?.bytes;
    return bytes ? [{ name, bytes, type: TYPES[pictureKind(bytes) ?? 'PNG'] ?? 'image/png' }] : [];
  });
  const page = styleGuide(set, assets, consistencyOf(assets.map((a) => a.facts)), references);
  download(`${fileNameOf(set.name)}-style-guide.html`, page, 'text/html');
}

/** All models of a set as one zip, each under its own name. */
export const deliverSet = (set: AssetSet, members: readonly Member[]): Promise<void> =>
  told(
    withTask('Making the delivery of the set', async (signal) => {
      const taken = new Set<string>();
      const files = members.flatMap(({ name, seen }) => {
        if (!seen) return [];
        let file = fileNameOf(name);
        for (let k = 2; taken.has(file); k++) file = `${fileNameOf(name)}-${k}`;
        taken.add(file);
        return [[`${file}.glb`, seen.glb] as const];
      });
      if (files.length === 0)
        return notify('None of the projects can be seen, so there is nothing to deliver.');
      const zip = await deliverPool.run('zip', { files }, { signal });
      download(`${fileNameOf(set.name)}.zip`, zip, 'application/zip');
    }),
  );

/** A set with its projects as one file, to be opened elsewhere. */
export const saveSetFile = (set: AssetSet): Promise<void> =>
  saveArchive(`${fileNameOf(set.name)}-set.zip`, [...set.projects], [set.id]);

/** Projects and sets as one file. */
export const saveArchive = (
  name: string,
  projects: readonly string[],
  sets: readonly string[],
): Promise<void> =>
  told(
    withTask('Saving the projects as one file', async (signal, onProgress) => {
      const { file, problems } = await setPool.run('backup', { projects, sets }, { signal, onProgress });
      download(name, file, 'application/zip');
      for (const problem of problems) notify(problem);
    }),
  );

/** Throws a set away; its projects stay. */
export async function removeSet(set: AssetSet): Promise<void> {
  const row = await store.sets.get(set.id);
  await store.sets.delete(set.id);
  notify(`The set “${set.name}” was deleted; its projects are still here.`, {
    label: 'Undo',
    run: () => void (row && store.sets.put({ ...row, set: parseSet(row.set) })),
  });
}
