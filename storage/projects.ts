import { checkAgainstModel, parseDocument, type ProjectDocument } from '../core/document';
import { packPixels, type PackedTile, type TileState } from '../core/pixels';
import type { ProjectData } from '../core/project-file';
import { CoreError } from '../core/errors';
import { checkMesh, meshHash, requireUvs, type UvMesh } from '../core/mesh';
import { parseSet } from '../core/set';
import { onPixels, readStrokes } from './strokes';
import type { ProjectRow, ProjectStore, TileRow } from './schema';

/** Turns what IndexedDB says into a sentence with a remedy. */
export function storageError(cause: unknown): CoreError {
  if (cause instanceof CoreError) return cause;
  const names = new Set<string>();
  for (let e = cause as { name?: string; inner?: unknown } | undefined; e; e = e.inner as typeof e) {
    if (e.name) names.add(e.name);
  }
  if (names.has('QuotaExceededError')) {
    return new CoreError(
      'storage-full',
      'This browser has no room left, so the newest changes are not kept on disk yet. Free some space, or save the project file from Deliver; it is tried again by itself.',
      { cause },
    );
  }
  const refused = [
    'SecurityError',
    'MissingAPIError',
    'MissingApiError',
    'InvalidAccessError',
    'NotAllowedError',
  ];
  if (refused.some((name) => names.has(name))) {
    return new CoreError(
      'storage-refused',
      'This browser refuses to keep data (private window, or storage is switched off). Work goes on, but save the project file from Deliver before you close.',
      { cause },
    );
  }
  return new CoreError(
    'storage-failed',
    'The browser can’t write to its storage just now; the disk may be full. Everything is held in memory and tried again by itself. Free some space, or save the project file from Deliver before you close.',
    { cause },
  );
}

/** A tile as it is stored; undefined where it is empty. */
export function tileRow(project: string, state: TileState | PackedTile): TileRow | undefined {
  const { plane, tile } = state;
  if ('packed' in state) return { project, layer: plane, tile, deflated: state.packed };
  return state.bytes ? { project, layer: plane, tile, deflated: packPixels(state.bytes) } : undefined;
}

/** A row as the engine takes it. */
function tileState({ layer: plane, tile, bytes, deflated }: TileRow): TileState | PackedTile {
  return deflated ? { plane, tile, packed: deflated } : { plane, tile, bytes: bytes ?? null };
}

/** A project's contents, its tiles packed or not. */
export type NewProject = Omit<ProjectData, 'pixels'> & {
  readonly pixels: readonly (TileState | PackedTile)[];
};

/** Writes a whole project as a new one. @param hash of its model, reckoned here where it isn't known */
export async function addProject(
  store: ProjectStore,
  id: string,
  data: NewProject,
  now: number,
  picture: Blob | null = null,
  hash = meshHash(data.mesh),
): Promise<void> {
  const row: ProjectRow = {
    id,
    name: data.document.name,
    createdAt: now,
    updatedAt: now,
    deletedAt: null,
    document: { ...data.document, model: hash },
    modelHash: hash,
    historyDone: 0,
    picture,
  };
  try {
    await store.transaction(
      'rw',
      [store.projects, store.models, store.tiles, store.strokes, store.pictures],
      async () => {
        await store.models.put({ hash, mesh: data.mesh });
        await store.tiles.bulkPut(data.pixels.flatMap((state) => tileRow(id, state) ?? []));
        await store.strokes.bulkPut(
          [...data.strokes].flatMap(([layer, list]) =>
            list.map((stroke, number) => ({ project: id, layer, number, stroke })),
          ),
        );
        await store.pictures.bulkPut(
          [...data.files].map(([file, bytes]) => ({ project: id, id: file, bytes })),
        );
        await store.projects.put(row);
      },
    );
  } catch (error) {
    throw storageError(error);
  }
}

/** What of a project is needed before its paint. */
export interface ProjectHead {
  readonly row: ProjectRow;
  readonly document: ProjectDocument;
  readonly mesh: UvMesh;
}

/** A project as it was stored. */
export interface LoadedProject extends NewProject {
  readonly row: ProjectRow;
  /** How many of its strokes couldn't be read. */
  readonly lostStrokes: number;
}

/**
 * Reads what a project is, without its paint. Nothing is written.
 *
 * @throws CoreError `storage-damaged` if the project or its model isn't there, `document-invalid`, `storage-refused`
 */
export async function loadHead(store: ProjectStore, id: string): Promise<ProjectHead> {
  try {
    const counts = new Map<number, number>();
    for (const [, layer, number] of await store.strokes.where({ project: id }).primaryKeys()) {
      counts.set(layer, Math.max(counts.get(layer) ?? 0, number + 1));
    }
    return await readHead(store, id, counts);
  } catch (error) {
    throw storageError(error);
  }
}

async function readHead(
  store: ProjectStore,
  id: string,
  strokes: ReadonlyMap<number, number>,
): Promise<ProjectHead> {
  const row = await store.projects.get(id);
  if (!row) {
    throw new CoreError(
      'storage-damaged',
      'That project is not in this browser. Choose one from the start page.',
    );
  }
  const model = await store.models.get(row.modelHash);
  if (!model) {
    throw new CoreError(
      'storage-damaged',
      'The model of this project is missing from storage. Bring its project file in again.',
    );
  }
  const document = parseDocument(row.document, { model: row.modelHash, strokes });
  const mesh = requireUvs(checkMesh(model.mesh));
  checkAgainstModel(document, mesh.faceParts.length);
  return { row, document, mesh };
}

/**
 * Reads a project; nothing is written. Strokes that can't be read are left out and counted; tiles are unpacked when they are needed.
 *
 * @throws CoreError as `loadHead`
 */
export async function loadProject(store: ProjectStore, id: string): Promise<LoadedProject> {
  try {
    // As one, so that what a commit of an open project writes is all there or not at all.
    const tables = [store.projects, store.models, store.tiles, store.strokes, store.pictures];
    const { tiles, fileRows, read, head } = await store.transaction('r', tables, async () => {
      const strokes = readStrokes(await store.strokes.where({ project: id }).sortBy('number'));
      const counts = new Map([...strokes.strokes].map(([layer, list]) => [layer, list.length]));
      return {
        read: strokes,
        tiles: await store.tiles.where({ project: id }).toArray(),
        fileRows: await store.pictures.where({ project: id }).toArray(),
        head: await readHead(store, id, counts),
      };
    });
    const { row, document, mesh } = head;
    return {
      row,
      document: onPixels(document, read),
      mesh,
      pixels: tiles.map(tileState),
      strokes: read.strokes,
      files: new Map(fileRows.map((f) => [f.id, f.bytes])),
      lostStrokes: [...read.lost.values()].reduce((sum, n) => sum + n, 0),
    };
  } catch (error) {
    throw storageError(error);
  }
}

/** A second project with the same contents. History is not taken along. */
export async function duplicateProject(
  store: ProjectStore,
  from: string,
  to: string,
  now: number,
): Promise<void> {
  const { row, lostStrokes: _lost, ...data } = await loadProject(store, from);
  const name = `${row.name} copy`.slice(0, 120);
  const copy = { ...data, document: { ...data.document, name } };
  // A project of the first form may not name its model yet.
  await addProject(store, to, copy, now, row.picture, row.modelHash || undefined);
}

/**
 * Wipes the projects that were thrown away, and models and pictures that no project or set uses any more. All of it is one transaction, so that a model
 * which is just being written with the change that needs it can't fall between.
 */
export async function wipeDeleted(store: ProjectStore): Promise<void> {
  const { projects, models, tiles, strokes, history, pages, pictures, folders, sets, setPictures } = store;
  const tables = [sets, setPictures, projects, models, tiles, strokes, history, pages, pictures, folders];
  await store.transaction('rw', tables, async () => {
    const gone = await projects.filter((p) => p.deletedAt !== null).primaryKeys();
    for (const id of gone) {
      for (const table of [tiles, strokes, history, pages, pictures]) {
        await table.where({ project: id }).delete();
      }
      await folders.delete(id);
      await projects.delete(id);
    }
    // Models that a step of some project's history leads back to are kept as well.
    const used = new Set<unknown>((await projects.toArray()).map((p) => p.modelHash));
    for (const hash of await history.orderBy('models').uniqueKeys()) used.add(hash);
    const unused = (await models.toCollection().primaryKeys()).filter((hash) => !used.has(hash));
    await models.bulkDelete(unused);
    const named = picturesNamed((await sets.toArray()).map((row) => row.set));
    // Of a set that can't be read it isn't known what it names.
    if (named) {
      const hashes = await setPictures.toCollection().primaryKeys();
      await setPictures.bulkDelete(hashes.filter((hash) => !named.has(hash)));
    }
  });
}

/** Pictures that sets name, by their hashes; null if one of the sets can't be read. */
function picturesNamed(sets: readonly unknown[]): ReadonlySet<string> | null {
  try {
    return new Set(sets.flatMap((set) => parseSet(set).shared.references.map((r) => r.hash)));
  } catch {
    return null;
  }
}
