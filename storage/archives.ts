import { parseRecipe } from '../core/document';
import { readProjectFile, type ProjectData } from '../core/project-file';
import { CoreError, sentenceOf } from '../core/errors';
import { meshHash } from '../core/mesh';
import { ArchiveWriter, parseSet, readArchive, type AssetSet } from '../core/set';
import { addProject, storageError } from './projects';
import type { ProjectStore } from './schema';

export interface Restored {
  /** Ids of the projects that were put back. */
  readonly projects: readonly string[];
  readonly sets: readonly string[];
  /** Sentences on what couldn't be read. */
  readonly problems: readonly string[];
}

type Progress = (done: number) => void;

/**
 * Projects and sets as one file. One that can't be read is left out and told: the others are saved all the same.
 *
 * @param fileOf a project as a file
 * @throws CoreError `file-unsupported` if it becomes too large
 */
export async function backUp(
  store: ProjectStore,
  { projects, sets }: { readonly projects: readonly string[]; readonly sets: readonly string[] },
  fileOf: (project: string) => Promise<Uint8Array>,
  onProgress: Progress,
): Promise<{ readonly file: Blob; readonly problems: readonly string[] }> {
  const pieces: Uint8Array<ArrayBuffer>[] = [];
  const problems: string[] = [];
  const writer = new ArchiveWriter((piece) => pieces.push(piece));
  for (const [i, id] of projects.entries()) {
    const name = (await store.projects.get(id))?.name ?? 'Project';
    try {
      writer.project(id, name, await fileOf(id));
    } catch (error) {
      if (error instanceof CoreError && error.code === 'file-unsupported') throw error;
      problems.push(`“${name}” is not in it: ${sentenceOf(error)}`);
    }
    onProgress((i + 1) / projects.length);
  }
  const kept: AssetSet[] = [];
  for (const row of await store.sets.bulkGet([...sets])) {
    if (!row) continue;
    try {
      kept.push(parseSet(row.set));
    } catch (error) {
      problems.push(`The set “${row.name}” is not in it: ${sentenceOf(error)}`);
    }
  }
  const hashes = kept.flatMap((set) => set.shared.references.map((r) => r.hash));
  for (const row of await store.setPictures.bulkGet([...new Set(hashes)])) {
    if (row) writer.picture(row.hash, row.bytes);
  }
  writer.end({
    sets: kept,
    recipes: (await store.recipes.toArray()).map((row) => row.recipe),
    rampSheets: await store.rampSheets.toArray(),
  });
  return { file: new Blob(pieces, { type: 'application/zip' }), problems };
}

/**
 * Puts what an archive holds beside what is there, under new ids. What is damaged is left out and told.
 *
 * @throws CoreError `file-empty`, `file-not-a-project`, `storage-full` if there is no room; what was put back until then stays
 */
export async function restore(
  store: ProjectStore,
  bytes: Uint8Array,
  now: number,
  onProgress: Progress,
): Promise<Restored> {
  const archive = readArchive(bytes);
  const problems = [...archive.problems];
  const ids = new Map<string, string>();
  // The first of the list is to be the newest.
  for (const [i, entry] of archive.projects.entries()) {
    const file = archive.file(entry);
    let data: ProjectData;
    try {
      if (!file) throw new CoreError('storage-damaged', 'its file is missing from the zip.');
      data = readProjectFile(file, (says) => problems.push(`“${entry.name}”: ${says}`));
    } catch (error) {
      problems.push(`“${entry.name}” could not be put back: ${sentenceOf(error)}`);
      continue;
    }
    // What can't be written now can't be for the others either: that is thrown.
    const id = crypto.randomUUID();
    await addProject(store, id, data, now - i, null, meshHash(data.mesh));
    ids.set(entry.id, id);
    onProgress((i + 1) / archive.projects.length);
  }
  try {
    const sets = await restoreSets(store, archive, ids, now);
    await restoreShared(store, archive);
    return { projects: [...ids.values()], sets, problems };
  } catch (error) {
    throw storageError(error);
  }
}

async function restoreSets(
  store: ProjectStore,
  archive: ReturnType<typeof readArchive>,
  ids: ReadonlyMap<string, string>,
  now: number,
): Promise<string[]> {
  const out: string[] = [];
  for (const set of archive.sets) {
    const id = crypto.randomUUID();
    const projects = set.projects.flatMap((p) => ids.get(p) ?? []);
    const scales = set.scales.flatMap(([p, scale]) => {
      const now = ids.get(p);
      return now === undefined ? [] : [[now, scale] as [string, number]];
    });
    await store.transaction('rw', store.sets, store.setPictures, store.rampSheets, async () => {
      for (const { hash } of set.shared.references) {
        const bytes = archive.picture(hash);
        if (bytes) await store.setPictures.put({ hash, bytes });
      }
      const { ramps } = set.shared;
      if (ramps && !(await store.rampSheets.get(ramps.id))) await store.rampSheets.put(ramps);
      await store.sets.put({ id, name: set.name, updatedAt: now, set: { ...set, id, projects, scales } });
    });
    out.push(id);
  }
  return out;
}

/** Recipes and ramp sheets that aren't there yet. */
async function restoreShared(
  store: ProjectStore,
  { recipes, rampSheets }: Pick<ReturnType<typeof readArchive>, 'recipes' | 'rampSheets'>,
): Promise<void> {
  const known = new Set((await store.recipes.toArray()).map((row) => JSON.stringify(row.recipe)));
  for (const recipe of recipes) {
    if (known.has(JSON.stringify(recipe)) || !isReadable(() => parseRecipe(recipe))) continue;
    await store.recipes.put({ id: crypto.randomUUID(), addedAt: Date.now(), recipe });
  }
  for (const row of rampSheets) {
    const sheet = row as { id?: unknown } | null;
    // Read through a schema of its own whenever it is used.
    if (typeof sheet?.id !== 'string' || (await store.rampSheets.get(sheet.id))) continue;
    await store.rampSheets.put(sheet as Parameters<typeof store.rampSheets.put>[0]);
  }
}

function isReadable(read: () => unknown): boolean {
  try {
    read();
    return true;
  } catch {
    return false;
  }
}
