import { insertNodes, newDocument, type LayerNode, type ProjectDocument } from '../../../core/document';
import type { ModelFileWish } from '../../../core/engine';
import { NODE_DEFAULTS } from '../../../core/layers';
import type { ProjectData } from '../../../core/project-file';
import { CoreError } from '../../../core/errors';
import { modelEndings, type ImportedPaint } from '../../../core/formats';
import {
  requireUvs,
  roomlessShare,
  sheetCount,
  type Mesh,
  type UvMesh,
  sheetsOfPictures,
} from '../../../core/mesh';
import type { SheetSize } from '../../../core/surface';
import { cornerUvs, DEFAULT_MARGIN, seamCorners } from '../../../core/unwrap';
import { addProject, storageError, type Restored } from '../../../storage';
import { isArchive } from '../../../core/set';
import { bytesOf } from '../../shared/files';
import { jobPool, setPool, store } from '../../shared/platform';
import { withTask } from '../../shared/tasks';

/** Larger files are refused before they are read: a million triangles take under 200 MB in any of the formats. */
const MAX_FILE_BYTES = 500e6;
/** A backup holds many projects; an array of bytes can be as long as that. */
const MAX_ZIP_BYTES = 2e9;

/** The file that holds the model, among those chosen together. */
function mainFile(files: readonly File[]): File {
  const byEnding = (pattern: RegExp): File | undefined => files.find((f) => pattern.test(f.name));
  return (
    byEnding(/\.zip$/i) ??
    byEnding(/\.glb$/i) ??
    byEnding(/\.gltf$/i) ??
    byEnding(/\.(obj|ply|stl)$/i) ??
    files[0]!
  );
}

/** What a model can come in: with its companions. */
export const MODEL_FILES = modelEndings(true).join();

const baseName = (file: File): string => file.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Model';

export type Opened =
  /** `missing`: what of it couldn't be read, in sentences. */
  | { readonly kind: 'project'; readonly data: ProjectData; readonly missing: readonly string[] }
  /** Several projects and their sets, put back already. */
  | { readonly kind: 'archive'; readonly restored: Restored }
  | {
      readonly kind: 'model';
      readonly mesh: Mesh;
      readonly paint: ImportedPaint;
      readonly name: string;
      /** It as one GLB, to be kept with the project; left out: nothing of it is kept. */
      readonly file?: Uint8Array;
      /** Names of pictures that it wants and that weren't chosen with it. */
      readonly missing?: readonly string[];
    };

/**
 * Reads what was dropped or chosen: a project file, or a model with its companions. Nothing is stored yet.
 *
 * @throws CoreError that says what was found
 */
export async function readFiles(files: readonly File[]): Promise<Opened> {
  const main = mainFile(files);
  const isZip = /\.zip$/i.test(main.name);
  const most = isZip ? MAX_ZIP_BYTES : MAX_FILE_BYTES;
  if (main.size > most) {
    throw new CoreError(
      'model-too-large',
      `“${main.name}” has ${Math.round(main.size / 1e6)} MB; up to ${most / 1e6} MB can be opened. ${isZip ? 'Unpack it and open its projects one by one.' : 'Reduce the model and try again.'}`,
    );
  }
  return withTask(`Reading ${main.name}`, async (signal, onProgress) => {
    const bytes = await bytesOf(main);
    if (isZip) {
      if (isArchive(bytes))
        return { kind: 'archive', restored: await setPool.run('restore', { bytes }, { signal, onProgress }) };
      return { kind: 'project', ...(await jobPool.run('readProject', { bytes }, { signal })) };
    }
    const companions = new Map<string, Uint8Array>();
    for (const file of files) if (file !== main) companions.set(file.name, await bytesOf(file));
    const read = await jobPool.run('readModel', { name: main.name, bytes, companions }, { signal });
    return { kind: 'model', ...read, name: baseName(main) };
  });
}

/** From here on a new layout is offered: a smaller part is most often a few slivers. */
export const MOST_ROOMLESS = 0.02;

/** Whether a model has UVs on which can be painted. */
export const canBePainted = (mesh: Mesh): boolean =>
  mesh.uvs !== null && roomlessShare(requireUvs(mesh)) <= MOST_ROOMLESS;

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

/** The seams of a layout that was made by itself: they give way when the model is laid out anew. */
export function seamsOfLayout(mesh: UvMesh): Pick<ProjectDocument, 'seams' | 'foundSeams'> {
  const seams = seamCorners(mesh);
  return { seams, foundSeams: seams };
}

/** Stores a new project. @returns its id */
export async function storeProject(data: ProjectData): Promise<string> {
  const id = crypto.randomUUID();
  const hash = await jobPool.run('meshHash', { mesh: data.mesh });
  await addProject(store, id, data, Date.now(), null, hash);
  return id;
}

/**
 * A new project of a model. The colours that it came with become local colours, and the first paint layer.
 *
 * @param came the model as it came in, if it has been laid out since: its pictures were made for those UVs
 * @throws CoreError `model-no-uvs`
 */
export async function projectOfModel(
  mesh: Mesh,
  paint: ImportedPaint,
  name: string,
  sheetSize: SheetSize,
  came: Mesh = mesh,
): Promise<ProjectData> {
  const own = came === mesh ? sheetsOfPictures(requireUvs(mesh), paint.pictures) : requireUvs(mesh);
  const fresh = newDocument(
    name,
    Array.from({ length: sheetCount(own) }, (_, s) => ({
      name: `Sheet ${s + 1}`,
      size: sheetSize,
    })),
  );
  const document = {
    ...withTradeOrder(fresh, paint.colors),
    ...(came === mesh ? {} : seamsOfLayout(own)),
  };
  const hasPictures = (came.uvs !== null && paint.pictures.some(Boolean)) || paint.cornerColors !== null;
  if (!hasPictures) return { document, mesh: own, pixels: [], strokes: new Map(), files: new Map() };
  const { base, vertices } = await withTask('Reading the model’s colours', (signal) =>
    jobPool.run(
      'basePaint',
      {
        mesh: own,
        sizes: fresh.sheets.map((s) => s.size),
        paint: came.uvs ? paint : { ...paint, pictures: [] },
        pictureUvs: came !== mesh && came.uvs ? cornerUvs(requireUvs(came)) : null,
      },
      { signal },
    ),
  );
  const brought = [
    { name: 'Base colour', blend: 'normal', tiles: base },
    { name: 'Vertex colours', blend: 'multiply', tiles: vertices },
  ] as const;
  const layers = brought
    .filter(({ name, tiles }) => name === 'Base colour' || tiles.length > 0)
    .map((layer, i) => ({ ...layer, plane: document.nextId + i }));
  const nodes = layers.map(({ name, blend, plane: id }): LayerNode => ({
    ...NODE_DEFAULTS,
    mask: [],
    kind: 'paint',
    id,
    name,
    blend,
  }));
  return {
    document: {
      ...document,
      layers: [...insertNodes(document.layers, nodes, { into: null, at: 1 })],
      bases: layers.map(({ plane }) => ({ plane, strokes: 0 })),
      nextId: document.nextId + layers.length,
    },
    mesh: own,
    pixels: layers.flatMap(({ plane, tiles }) => tiles.map(({ tile, bytes }) => ({ plane, tile, bytes }))),
    strokes: new Map(),
    files: new Map(),
  };
}

/** Keeps the file that a model came in with its project. @param placing what was done to the model since it was read */
export function withModelFile(data: ProjectData, { name, bytes, placing }: ModelFileWish): ProjectData {
  const { nextId: id } = data.document;
  return {
    ...data,
    document: { ...data.document, modelFile: { id, name, placing: placing && [...placing] }, nextId: id + 1 },
    files: new Map([...data.files, [id, bytes]]),
  };
}

/** The order in which the trade builds up: local colour, form, colours, lines, effects. */
function withTradeOrder(fresh: ProjectDocument, colors: ImportedPaint['colors']): ProjectDocument {
  const [ground] = fresh.layers;
  const parts = fresh.nextId;
  const node = { ...NODE_DEFAULTS, mask: [] };
  const paint = (id: number, name: string): LayerNode => ({ ...node, kind: 'paint', id, name });
  const form: LayerNode = {
    ...node,
    kind: 'group',
    id: parts,
    name: 'Form',
    isolated: false,
    detail: null,
    layers: [],
  };
  return {
    ...fresh,
    layers: [
      ground?.kind === 'local'
        ? { ...ground, colors: colors.map(([part, color]) => [part, color]) }
        : ground!,
      form,
      paint(parts + 1, 'Colours'),
      paint(parts + 2, 'Lines'),
      paint(parts + 3, 'Effects'),
    ],
    nextId: parts + 4,
  };
}

/** The projects of the demo, by the names of their files. */
export const DEMOS = {
  'otter-cook': 'Otter cook',
  'otter-matched': 'Otter cook, matched',
  lantern: 'Fish lantern',
  kettle: 'Kettle',
  crate: 'Crate of turnips',
  'lantern-inked': 'Paper lantern, inked',
  'crate-and-kettle': 'Crate and kettle on ramps',
} as const;

/** Brings a project of the demo into the browser. @returns its id */
export async function openDemo(demo: keyof typeof DEMOS = 'otter-cook'): Promise<string> {
  return withTask('Opening the demo', async (signal) => {
    const [response, measured] = await Promise.all([
      fetch(`/demo/${demo}.zip`, { signal }),
      // Both otters have the same form and the same light.
      demo.startsWith('otter') ? fetch('/demo/otter-cook.measured.zip', { signal }).catch(() => null) : null,
    ]);
    if (!response.ok) throw demoMissing();
    const bytes = new Uint8Array(await response.arrayBuffer());
    const { data } = await jobPool.run('readProject', { bytes }, { signal });
    try {
      if (measured?.ok) await keepMeasured(measured, signal);
      return await storeProject(data);
    } catch (error) {
      throw storageError(error);
    }
  });
}

/** Puts the stall's set, its four projects with it, into the browser. @returns the set's id */
export async function openDemoSet(): Promise<string> {
  return withTask('Opening the stall', async (signal, onProgress) => {
    const [response, measured] = await Promise.all([
      fetch('/demo/stall-set.zip', { signal }),
      fetch('/demo/otter-cook.measured.zip', { signal }).catch(() => null),
    ]);
    if (!response.ok) throw demoMissing();
    if (measured?.ok) await keepMeasured(measured, signal);
    const bytes = new Uint8Array(await response.arrayBuffer());
    const { sets } = await setPool.run('restore', { bytes }, { signal, onProgress });
    if (!sets[0]) throw demoMissing();
    return sets[0];
  });
}

const demoMissing = (): CoreError =>
  new CoreError(
    'file-not-a-project',
    'The demo is missing from this installation. Run ./script/start again; it makes the demo.',
  );

/** Without it the cues are measured here, which takes half a minute. */
async function keepMeasured(file: Response, signal: AbortSignal): Promise<void> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  await jobPool.run('keepMeasured', { bytes }, { signal }).catch(() => undefined);
}
