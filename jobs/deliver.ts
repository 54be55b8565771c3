import { z } from 'zod';
import {
  deliverySettings,
  engineSource,
  OWN_SIZE,
  ExportMaker,
  PARCELS,
  textureEnding,
  workHere,
  type DeliveredNames,
  type DeliverySettings,
  type ExportItem,
} from '../core/delivery';
import { detailReport } from '../core/compositor';
import { engineAtSize, flattenAlbedo, type Engine } from '../core/engine';
import { hasDetails, nodesOf } from '../core/document';
import { readProjectFile } from '../core/project-file';
import { createWasmKernels } from '../core/kernels';
import { contentHash } from '../core/math';
import { asJson, type DoJob } from './job';
import { jsonIn } from './read';
import { webpReady } from './webp-module';

/** What is made where no settings are given, each sheet at its own size. */
const USUAL: DeliverySettings = deliverySettings.parse({
  size: OWN_SIZE,
  parcels: ['albedo', 'detail', 'ramps', 'model', 'report'],
});

/** Settings as they are, or those of a report that the application wrote. */
const settingsFile = z.preprocess(
  (data) => z.object({ settings: z.unknown() }).safeParse(data).data?.settings ?? data,
  deliverySettings,
);

/** Paints a project file again without a browser: what leaves, as the application makes it, and a report. */
export const deliver: DoJob<'deliver'> = async (job, files, onProgress) => {
  const { project, size, ora, plain, settings: from } = job;
  const settings = from === undefined ? null : jsonIn(files, from, settingsFile);
  const data = readProjectFile(files.require(project));
  const began = performance.now();
  const engine = await engineAtSize(data, size, createWasmKernels(), onProgress);
  const maker = new ExportMaker(
    engineSource(engine),
    plain ? { ...(settings ?? USUAL), plain } : (settings ?? USUAL),
    workHere,
    settings ? undefined : plainNames(engine.surface.sheets.length),
  );
  if (textureEnding(maker.settings.format) === '.webp') await webpReady();
  const isThere = leaves(engine, settings === null);
  const wanted = new Set<ExportItem>([...maker.settings.parcels, ...(ora ? (['layers'] as const) : [])]);
  const made = new Map<string, Uint8Array | string>();
  for (const exportItem of PARCELS)
    if (wanted.has(exportItem) && exportItem !== 'report' && isThere(exportItem))
      for (const [name, bytes] of await maker.exportItem(exportItem)) made.set(name, bytes);
  const { layers } = engine.document;
  const texelHash = hashOf(engine, maker.settings);
  const report = {
    layers: [...nodesOf(layers)].length,
    strokes: [...data.strokes.values()].reduce((sum, list) => sum + list.length, 0),
    texelHash,
    ...(hasDetails(layers) && { detail: detailReport(maker.settings.channels) }),
    ...(maker.notes.size > 0 && { flattened: [...new Set([...maker.notes.values()].flat())] }),
    ...(settings && { settings: maker.settings }),
    seconds: Math.round(performance.now() - began) / 1000,
  };
  made.set(maker.names.report, asJson(report));
  return { figures: { texelHash }, report, files: made };
};

/** Which parcels the project has. @param plain what isn't there is left out of what is usual */
function leaves(engine: Engine, plain: boolean): (exportItem: ExportItem) => boolean {
  const { layers, palette, ramps } = engine.document;
  return (exportItem) => {
    switch (exportItem) {
      case 'detail':
        return hasDetails(layers);
      case 'ramps':
        return ramps !== null && (!plain || ramps.seats.length > 0);
      case 'palette-strip':
      case 'palette-tokens':
        return palette.length > 0;
      default:
        return true;
    }
  };
}

/** One hash over all sheets, as they are flattened to 8 bit. */
function hashOf(engine: Engine, { size, bleed, alpha }: DeliverySettings): string {
  const sheets = engine.surface.sheets.map(
    (sheet, k) =>
      flattenAlbedo(engine, { size: size || sheet.size, bleed: bleed ?? Infinity, alpha }, k).rgba,
  );
  const all = new Uint8Array(sheets.reduce((sum, rgba) => sum + rgba.length, 0));
  sheets.reduce((at, rgba) => {
    all.set(rgba, at);
    return at + rgba.length;
  }, 0);
  return contentHash(all);
}

/** Names that tell only what is in a file, as scripts expect them. */
function plainNames(sheets: number): DeliveredNames {
  const of = (what: string, ending: string): string[] =>
    Array.from({ length: sheets }, (_, k) => (sheets > 1 ? `${what}-${k + 1}${ending}` : `${what}${ending}`));
  return {
    albedo: of('albedo', '.png'),
    detail: of('detail', '.png'),
    layers: of('layers', '.ora'),
    layout: of('layout', '.png'),
    layerPictures: of('layer', ''),
    model: 'model.glb',
    toon: 'toon.glb',
    obj: 'model.obj',
    mtl: 'model.mtl',
    ramps: 'ramps.png',
    report: 'report.json',
    strip: 'palette.png',
    tokens: 'palette.json',
    project: 'project.zip',
    recipe: 'recipe.json',
    whole: 'delivery.zip',
  };
}
