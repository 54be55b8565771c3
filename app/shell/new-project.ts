import { newDocument, type ProjectData } from '../../core/engine';
import { CoreError } from '../../core/errors';
import { requireUvs, type Mesh } from '../../core/mesh';
import type { SheetSize } from '../../core/surface';
import { DEFAULT_MARGIN } from '../../core/unwrap';
import { addProject, storageError } from '../../workers';
import { bytesOf } from '../shared/files';
import { jobPool, store } from '../shared/platform';
import { withTask } from '../shared/tasks';

/** Larger files are refused before they are read: a million triangles take under 200 MB in any of the formats. */
const MAX_FILE_BYTES = 500e6;

/** The file that holds the model, among those chosen together. */
function mainFile(files: readonly File[]): File {
  const byEnding = (pattern: RegExp): File | undefined => files.find((f) => pattern.test(f.name));
  return (
    byEnding(/\.zip$/i) ?? byEnding(/\.glb$/i) ?? byEnding(/\.gltf$/i) ?? byEnding(/\.(obj|ply|stl)$/i) ?? files[0]!
  );
}

const baseName = (file: File): string => file.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Model';

export type Opened =
  | { readonly kind: 'project'; readonly data: ProjectData }
  | { readonly kind: 'model'; readonly mesh: Mesh; readonly name: string };

/**
 * Reads what was dropped or chosen: a project file, or a model with its companions. Nothing is stored yet.
 *
 * @throws CoreError that says what was found
 */
export async function readFiles(files: readonly File[]): Promise<Opened> {
  const main = mainFile(files);
  if (main.size > MAX_FILE_BYTES) {
    throw new CoreError(
      'model-too-large',
      `“${main.name}” has ${Math.round(main.size / 1e6)} MB; up to ${MAX_FILE_BYTES / 1e6} MB can be opened. Reduce the model and try again.`,
    );
  }
  return withTask(`Reading ${main.name}`, async (signal) => {
    const bytes = await bytesOf(main);
    if (/\.zip$/i.test(main.name)) {
      return { kind: 'project', data: await jobPool.run('readProject', { bytes }, { signal }) };
    }
    const companions = new Map<string, Uint8Array>();
    for (const file of files) if (file !== main) companions.set(file.name, await bytesOf(file));
    const mesh = await jobPool.run('readModel', { name: main.name, bytes, companions }, { signal });
    return { kind: 'model', mesh, name: baseName(main) };
  });
}

/** Lays out a model that has no UVs, or whose UVs are of no use. */
export function layOut(mesh: Mesh, size: SheetSize): Promise<Mesh> {
  return withTask('Laying out the model', (signal, onProgress) =>
    jobPool.run(
      'unwrap',
      { mesh, how: { size, margin: DEFAULT_MARGIN, seams: 'auto' } },
      { signal, onProgress },
    ),
  );
}

/** Stores a new project. @returns its id */
export async function storeProject(data: ProjectData): Promise<string> {
  const id = crypto.randomUUID();
  await addProject(store, id, data, Date.now());
  return id;
}

/** @throws CoreError `model-no-uvs` */
export function projectOfModel(mesh: Mesh, name: string, sheetSize: SheetSize): ProjectData {
  return {
    document: newDocument(name, sheetSize),
    mesh: requireUvs(mesh),
    pixels: [],
    strokes: new Map(),
    pictures: new Map(),
  };
}

/** Stores the demo's painted project anew. @returns its id */
export async function openDemo(): Promise<string> {
  return withTask('Opening the demo', async (signal) => {
    const response = await fetch('/demo/otter-cook.zip', { signal });
    if (!response.ok) {
      throw new CoreError(
        'file-not-a-project',
        'The demo is missing from this installation. Run ./script/start again; it makes the demo.',
      );
    }
    const bytes = new Uint8Array(await response.arrayBuffer());
    const data = await jobPool.run('readProject', { bytes }, { signal });
    try {
      return await storeProject(data);
    } catch (error) {
      throw storageError(error);
    }
  });
}
