import { create } from 'zustand';
import { flattenSurface, type DeliveredAlpha, type ProjectDocument } from '../../core/engine';
import { CoreError, sentenceOf } from '../../core/errors';
import { paletteTokens } from '../../core/formats';
import { plannedNormals } from '../../core/light';
import type { UvMesh } from '../../core/mesh';
import { type Session, useProject } from '../project';
import { download, fileNameOf } from '../shared/files';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { withTask } from '../shared/tasks';

/** Every sheet at the size that it has. */
export const OWN_SIZE = 0;

/** How the albedo leaves. */
interface DeliverHow {
  /** Texels a side; 0 for the sheet's own, null for what suits the project. */
  readonly size: number | null;
  readonly bleed: number;
  readonly alpha: DeliveredAlpha;
  /** Id of the light plan whose normals the model leaves with; null: its own. */
  readonly normalsOf: number | null;
}

export const useDelivery = create<DeliverHow>(() => ({
  size: null,
  bleed: Infinity,
  alpha: 'opaque',
  normalsOf: null,
}));

/** The size at which sheets leave, if nothing else is wanted: each its own where there are several, never less than 512. */
export const suitableSize = (sheets: ProjectDocument['sheets']): number =>
  sheets.length > 1 ? OWN_SIZE : Math.max(512, sheets[0]?.size ?? 1024);

/** Names of the files that a project leaves as. */
export function deliveredNames({ name, sheets }: Pick<ProjectDocument, 'name' | 'sheets'>) {
  const own = fileNameOf(name);
  return {
    albedo: sheets.map((sheet) =>
      sheets.length > 1 ? `${own}-${fileNameOf(sheet.name)}-albedo.png` : `${own}-albedo.png`,
    ),
    model: `${own}.glb`,
    strip: `${own}-palette.png`,
    tokens: `${own}-palette.json`,
    project: `${own}.zip`,
    recipe: `${own}-recipe.json`,
  };
}

/** What goes wrong is told; what was stopped isn't. */
async function guarded(
  work: (document: ProjectDocument, names: ReturnType<typeof deliveredNames>) => Promise<void>,
): Promise<void> {
  const { document } = useProject.getState();
  if (!document) return;
  try {
    await work(document, deliveredNames(document));
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

/** Waits until nothing of the build-up is still being measured: a shadow that isn't cast yet would be missing. */
async function allMeasured(signal: AbortSignal): Promise<void> {
  const isDone = (): boolean => {
    const { missingCues, stoppedCues } = useProject.getState();
    return missingCues.length <= stoppedCues.size;
  };
  if (isDone()) return;
  await new Promise<void>((resolve, reject) => {
    const stop = useProject.subscribe(() => isDone() && end(resolve));
    const end = (done: () => void): void => {
      stop();
      done();
    };
    signal.addEventListener('abort', () =>
      end(() => reject(new CoreError('cancelled', 'The delivery was stopped.'))),
    );
  });
}

/** The model with the normals that a light plan lights it by, where that is wanted. */
function withNormals(mesh: UvMesh): UvMesh {
  const { document } = useProject.getState();
  const { normalsOf } = useDelivery.getState();
  const plan = document?.lights.find((l) => l.id === normalsOf)?.plan;
  if (!plan) return mesh;
  const facesOf = (id: number): readonly number[] => document?.regions.find((r) => r.id === id)?.faces ?? [];
  return { ...mesh, normals: plannedNormals(mesh, plan, facesOf) };
}

async function albedo(session: Session, sheet: number): Promise<Uint8Array> {
  const { surface, document } = useProject.getState();
  const { size: wanted, bleed, alpha } = useDelivery.getState();
  if (!surface || !document)
    throw new CoreError('bad-argument', 'The surface is still being measured. Try again in a moment.');
  return withTask('Flattening the albedo', async (signal, onProgress) => {
    await allMeasured(signal);
    const rows = await session.sheetRows(sheet);
    if (!rows) throw new CoreError('cancelled', 'The picture could not be flattened. Try again.');
    const own = flattenSurface(surface, sheet);
    const size = wanted ?? suitableSize(document.sheets);
    return jobPool.run(
      'albedoPng',
      { surface: own, rows, size: size || own.size, bleed, alpha },
      { signal, onProgress },
    );
  });
}

/** @param only the number of one sheet; left out: all of them */
export const saveAlbedo = (session: Session, only?: number): Promise<void> =>
  guarded(async ({ sheets }, names) => {
    for (const sheet of only === undefined ? sheets.keys() : [only]) {
      download(names.albedo[sheet]!, await albedo(session, sheet), 'image/png');
    }
  });

export const saveModel = (session: Session): Promise<void> =>
  guarded(async ({ name, sheets }, names) => {
    const pngs: Uint8Array[] = [];
    for (const sheet of sheets.keys()) pngs.push(await albedo(session, sheet));
    const mesh = withNormals(useProject.getState().mesh!);
    const glb = await jobPool.run('unlitGlb', { mesh, name, pngs });
    download(names.model, glb, 'model/gltf-binary');
  });

export const savePaletteStrip = (): Promise<void> =>
  guarded(async ({ palette: colors }, names) => {
    if (colors.length === 0) return notify('The palette is empty: there is no strip to save.');
    download(names.strip, await jobPool.run('palettePng', { colors }), 'image/png');
  });

export const savePaletteTokens = (): Promise<void> =>
  guarded(async ({ name, palette }, names) => {
    if (palette.length === 0) return notify('The palette is empty: there are no tokens to save.');
    download(names.tokens, paletteTokens(name, palette), 'application/json');
    return Promise.resolve();
  });

export const saveProject = (session: Session): Promise<void> =>
  guarded(async (_document, names) => {
    const bytes = await withTask('Writing the project file', () => session.projectFile());
    if (bytes) download(names.project, bytes, 'application/zip');
  });

export const saveRecipe = (session: Session): Promise<void> =>
  guarded(async (_document, names) => {
    const recipe = await session.recipe();
    if (recipe) download(names.recipe, `${JSON.stringify(recipe, null, 2)}\n`, 'application/json');
  });
