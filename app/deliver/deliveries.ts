import { create } from 'zustand';
import {
  type DeliveredAlpha,
  type DetailChannels,
  detailReport,
  flattenSurface,
  hasDetails,
  type ProjectDocument,
  USUAL_CHANNELS,
} from '../../core/engine';
import { CoreError, sentenceOf } from '../../core/errors';
import { paletteTokens } from '../../core/formats';
import type { UvMesh } from '../../core/mesh';
import { rampPicture, sheetOfRamps } from '../../core/ramps';
import { seatedNow, type Session, useProject } from '../project';
import { download, fileNameOf } from '../shared/files';
import { notify } from '../shared/notify';
import { deliverPool, jobPool } from '../shared/platform';
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
  /** Which mask of the detail sheet goes into which channel. */
  readonly channels: DetailChannels;
  /** What the standard couldn't hold when a sheet's layers were written last, by the sheet. */
  readonly flattened: ReadonlyMap<number, readonly string[]>;
}

export const useDelivery = create<DeliverHow>(() => ({
  size: null,
  bleed: Infinity,
  alpha: 'opaque',
  normalsOf: null,
  channels: USUAL_CHANNELS,
  flattened: new Map(),
}));

/** The size at which sheets leave, if nothing else is wanted: each its own where there are several, never less than 512. */
export const suitableSize = (sheets: ProjectDocument['sheets']): number =>
  sheets.length > 1 ? OWN_SIZE : Math.max(512, sheets[0]?.size ?? 1024);

/** Names of the files that a project leaves as. */
export function deliveredNames({ name, sheets }: Pick<ProjectDocument, 'name' | 'sheets'>) {
  const own = fileNameOf(name);
  const ofSheets = (what: string): string[] =>
    sheets.map((sheet) =>
      sheets.length > 1 ? `${own}-${fileNameOf(sheet.name)}-${what}.png` : `${own}-${what}.png`,
    );
  return {
    albedo: ofSheets('albedo'),
    detail: ofSheets('detail'),
    layers: sheets.map((sheet) =>
      sheets.length > 1 ? `${own}-${fileNameOf(sheet.name)}.ora` : `${own}.ora`,
    ),
    model: `${own}.glb`,
    toon: `${own}-toon.glb`,
    ramps: `${own}-ramps.png`,
    report: `${own}-report.json`,
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
async function withNormals(mesh: UvMesh): Promise<UvMesh> {
  const { document } = useProject.getState();
  const { normalsOf } = useDelivery.getState();
  const plan = document?.lights.find((l) => l.id === normalsOf)?.plan;
  if (!plan) return mesh;
  const regions = (document?.regions ?? []).map(({ id, faces }) => [id, faces] as const);
  return { ...mesh, normals: await jobPool.run('plannedNormals', { mesh, plan, regions }) };
}

async function flattened(session: Session, sheet: number, what: 'albedo' | 'detail'): Promise<Uint8Array> {
  const { surface, document } = useProject.getState();
  const { size: wanted, bleed, alpha, channels } = useDelivery.getState();
  if (!surface || !document)
    throw new CoreError('bad-argument', 'The surface is still being measured. Try again in a moment.');
  const title = what === 'albedo' ? 'Flattening the albedo' : 'Flattening the detail sheet';
  return withTask(title, async (signal, onProgress) => {
    await allMeasured(signal);
    const rows = await (what === 'albedo' ? session.sheetRows(sheet) : session.detailRows(sheet));
    if (!rows) throw new CoreError('cancelled', 'The picture could not be flattened. Try again.');
    const own = flattenSurface(surface, sheet);
    const size = wanted ?? suitableSize(document.sheets);
    const how = { surface: own, rows, size: size || own.size, bleed };
    return what === 'albedo'
      ? deliverPool.run('albedoPng', { ...how, alpha }, { signal, onProgress })
      : deliverPool.run('detailPng', { ...how, channels }, { signal, onProgress });
  });
}

/** The same of every sheet. */
async function everySheet(session: Session, what: 'albedo' | 'detail'): Promise<Uint8Array[]> {
  const pngs: Uint8Array[] = [];
  const { sheets } = useProject.getState().document!;
  for (const sheet of sheets.keys()) pngs.push(await flattened(session, sheet, what));
  return pngs;
}

/** @param only the number of one sheet; left out: all of them */
export const saveAlbedo = (session: Session, only?: number): Promise<void> =>
  guarded(async ({ sheets }, names) => {
    for (const sheet of only === undefined ? sheets.keys() : [only]) {
      download(names.albedo[sheet]!, await flattened(session, sheet, 'albedo'), 'image/png');
    }
  });

/** Every sheet with its layers as OpenRaster. @param only the number of one sheet; left out: all of them */
export const saveLayers = (session: Session, only?: number): Promise<void> =>
  guarded(async ({ sheets }, names) => {
    for (const sheet of only === undefined ? sheets.keys() : [only]) {
      const { ora, notes } = await withTask('Writing the layers', async (signal, onProgress) => {
        await allMeasured(signal);
        const image = await session.layered(sheet);
        if (!image) throw new CoreError('cancelled', 'The layers could not be written. Try again.');
        return {
          ora: await deliverPool.run('openRaster', { image }, { signal, onProgress }),
          notes: image.notes,
        };
      });
      useDelivery.setState(({ flattened }) => ({ flattened: new Map(flattened).set(sheet, notes) }));
      download(names.layers[sheet]!, ora, 'image/openraster');
    }
  });

export const saveModel = (session: Session): Promise<void> =>
  guarded(async ({ name }, names) => {
    const pngs = await everySheet(session, 'albedo');
    const mesh = await withNormals(useProject.getState().mesh!);
    const glb = await deliverPool.run('unlitGlb', { mesh, name, pngs, ramps: rampsToDeliver() });
    download(names.model, glb, 'model/gltf-binary');
  });

/** What of the open model lies on the ramp sheet. */
function rampsToDeliver() {
  const ramps = useProject.getState().document?.ramps;
  const seated = seatedNow();
  return ramps && seated ? { seated, sheet: rampPicture(sheetOfRamps(ramps), ramps.size) } : undefined;
}

/** The ramp sheet, texel for texel. */
export const saveRamps = (): Promise<void> =>
  guarded(async ({ ramps }, names) => {
    if (!ramps) return notify('There is no ramp sheet yet. Make one at Block in.');
    const picture = rampPicture(sheetOfRamps(ramps), ramps.size);
    download(names.ramps, await deliverPool.run('encodePng', { picture }), 'image/png');
  });

const NO_DETAIL = 'There is no detail sheet yet. Add one to the build-up: Add, Detail sheet.';

/** @param only the number of one sheet; left out: all of them */
export const saveDetail = (session: Session, only?: number): Promise<void> =>
  guarded(async ({ sheets, layers }, names) => {
    if (!hasDetails(layers)) return notify(NO_DETAIL);
    for (const sheet of only === undefined ? sheets.keys() : [only]) {
      download(names.detail[sheet]!, await flattened(session, sheet, 'detail'), 'image/png');
    }
  });

/** The model with albedo and detail sheet, and a report of what is where. */
export const saveToonModel = (session: Session): Promise<void> =>
  guarded(async ({ name, layers }, names) => {
    if (!hasDetails(layers)) return notify(NO_DETAIL);
    const pngs = await everySheet(session, 'albedo');
    const says = detailReport(useDelivery.getState().channels);
    const detail = { pngs: await everySheet(session, 'detail'), says };
    const mesh = await withNormals(useProject.getState().mesh!);
    const glb = await deliverPool.run('unlitGlb', { mesh, name, pngs, detail, ramps: rampsToDeliver() });
    download(names.toon, glb, 'model/gltf-binary');
  });

/** What is delivered and how it is to be read, as JSON. */
export const saveReport = (): Promise<void> =>
  guarded(async (document, names) => {
    const { size, bleed, alpha, normalsOf, channels } = useDelivery.getState();
    const wanted = size ?? suitableSize(document.sheets);
    const report = {
      project: document.name,
      sheets: document.sheets.map((sheet, k) => ({
        name: sheet.name,
        size: wanted || sheet.size,
        albedo: names.albedo[k],
        ...(hasDetails(document.layers) && { detail: names.detail[k] }),
      })),
      bleed: Number.isFinite(bleed) ? bleed : 'whole sheet',
      alpha,
      normals: document.lights.find((l) => l.id === normalsOf)?.name ?? 'the model’s own',
      ...(hasDetails(document.layers) && { detail: detailReport(channels) }),
      ...(document.ramps && {
        ramps: {
          file: names.ramps,
          size: document.ramps.size,
          shared: document.ramps.shared?.name ?? null,
          seats: document.ramps.seats.map(({ of, ramp, run, from, to }) => ({
            ...('part' in of ? of : { region: document.regions.find((r) => r.id === of.region)?.name ?? '' }),
            ramp: document.ramps!.ramps.find((r) => r.id === ramp)?.name ?? '',
            run: run.kind,
            from,
            to,
          })),
        },
      }),
    };
    download(names.report, `${JSON.stringify(report, null, 2)}\n`, 'application/json');
    return Promise.resolve();
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
