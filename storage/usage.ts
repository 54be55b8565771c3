import type { ProjectStore } from './schema';

/** What a project takes on disk, bytes. */
export interface ProjectUsage {
  readonly id: string;
  readonly name: string;
  readonly isDeleted: boolean;
  readonly paint: number;
  readonly undo: number;
  /** References, patterns and other files. */
  readonly files: number;
}

/** What everything takes on disk, bytes. */
export interface StorageUsage {
  readonly projects: readonly ProjectUsage[];
  /** What was measured, and can be measured again. */
  readonly measured: number;
}

/** A stroke is kept as objects: so many bytes a number, about. */
const NUMBER_BYTES = 9;

/** What everything takes on disk, as far as it can be told from outside. */
export async function storageUsage(store: ProjectStore): Promise<StorageUsage> {
  const sums = new Map<string, { paint: number; undo: number; files: number }>();
  const of = (project: string) => {
    let sum = sums.get(project);
    if (!sum) sums.set(project, (sum = { paint: 0, undo: 0, files: 0 }));
    return sum;
  };
  await store.tiles.each(({ project, bytes, deflated }) => {
    of(project).paint += (deflated ?? bytes)?.byteLength ?? 0;
  });
  await store.strokes.each(({ project, stroke }) => {
    of(project).paint += numbersOf(stroke) * NUMBER_BYTES;
  });
  await store.history.each(({ project, step, entry }) => {
    of(project).undo += JSON.stringify(step ?? entry ?? null).length;
  });
  await store.pages.each(({ project, tiles }) => {
    of(project).undo += bytesWithin(tiles);
  });
  await store.pictures.each(({ project, bytes }) => {
    of(project).files += bytes.byteLength;
  });
  let measured = 0;
  await store.maps.each((row) => {
    measured += row.bytes;
  });
  const rows = await store.projects.toArray();
  return {
    projects: rows
      .map(({ id, name, deletedAt }) => ({ id, name, isDeleted: deletedAt !== null, ...of(id) }))
      .sort((a, b) => total(b) - total(a)),
    measured,
  };
}

export const total = ({ paint, undo, files }: Pick<ProjectUsage, 'paint' | 'undo' | 'files'>): number =>
  paint + undo + files;

/** Numbers of a stroke's samples. */
function numbersOf(stroke: unknown): number {
  const { runs } = (stroke ?? {}) as { runs?: unknown };
  return Array.isArray(runs)
    ? runs.reduce((sum: number, run: unknown) => sum + (Array.isArray(run) ? run.length : 0), 0)
    : 0;
}

/** Bytes of all buffers in something. */
function bytesWithin(thing: unknown): number {
  if (ArrayBuffer.isView(thing)) return thing.byteLength;
  if (typeof thing !== 'object' || thing === null) return 0;
  return Object.values(thing).reduce((sum: number, part) => sum + bytesWithin(part), 0);
}

/** Lets go of what was measured: it is measured again when it is needed. */
export const freeMeasured = (store: ProjectStore): Promise<void> => store.maps.clear();

/** Forgets a project's steps: its paint stays, and nothing of before can be undone. It mustn't be open. */
export async function forgetSteps(store: ProjectStore, project: string): Promise<void> {
  const { projects, history, pages } = store;
  await store.transaction('rw', [projects, history, pages], async () => {
    await history.where({ project }).delete();
    await pages.where({ project }).delete();
    await projects.update(project, { historyDone: 0 });
  });
}
