import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { engineOn, PAINT } from '../../tests/engines';
import { seamedFloor } from '../../tests/shapes';
import { line, PLAIN_STROKE } from '../../tests/strokes';
import {
  deliverySettings,
  exportsOf,
  TEXTURE_FORMATS,
  workHere,
  type DeliverySettings,
} from '../../core/delivery';
import { compositeDetail, compositeSheet, compositeSheetDeep, layeredPicture } from '../../core/engine';
import { recipeFromDocument } from '../../core/document';
import { writeProjectFile } from '../../core/project-file';
import { doJob, FileSet } from '../../jobs';
import type { Session } from '../project';

async function loaded() {
  // Node has no navigator yet; the pools of workers ask it how many there may be.
  vi.stubGlobal('navigator', { hardwareConcurrency: 2 });
  const { deliverPool } = await import('../shared/platform');
  // A worker gets copies of what it is handed, and hands copies back.
  vi.spyOn(deliverPool, 'run').mockImplementation((async (method: never, params: unknown) =>
    structuredClone(await workHere(method, structuredClone(params) as never))) as never);
  const { useProject } = await import('../project');
  const { useUi } = await import('../shared/ui-store');
  const { useDelivery } = await import('./delivery-settings');
  const { exportMaker } = await import('./make-exports');
  return { useProject, useUi, useDelivery, exportMaker };
}

let app: Awaited<ReturnType<typeof loaded>>;
beforeAll(async () => {
  app = await loaded();
});
afterAll(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const engine = engineOn(seamedFloor(), 128);
engine.apply({
  do: 'stroke',
  layer: PAINT,
  stroke: { ...PLAIN_STROKE, opacity: 0.7, runs: [line([-0.8, 0, 0], [0.8, 0, 0.1], 0.2)] },
});
const [group] = engine.apply({ do: 'add-group', name: 'Line weight', detail: 'line', into: null, at: 3 }).ids;
const [weight] = engine.apply({
  do: 'add-layer',
  layer: { kind: 'paint', name: 'Weight' },
  into: group!,
  at: 0,
}).ids;
engine.apply({
  do: 'stroke',
  layer: weight!,
  stroke: { ...PLAIN_STROKE, color: '#808080', runs: [line([-0.5, 0, -0.5], [0.5, 0, 0.5], 0.1)] },
});
engine.apply({ do: 'add-swatches', swatches: [{ name: 'Brick', color: '#b04030' }] });

/** The open project, its paint worker here. */
const session = {
  sheetRows: (sheet: number) => Promise.resolve(compositeSheet(engine, sheet)),
  deepRows: (sheet: number) => Promise.resolve(compositeSheetDeep(engine, sheet)),
  detailRows: (sheet: number) => Promise.resolve(compositeDetail(engine, sheet)),
  layered: (sheet: number) => Promise.resolve(layeredPicture(engine, sheet)),
  projectFile: () => Promise.resolve(projectFile()),
  recipe: () => Promise.resolve(recipeFromDocument(engine.document, engine.everything().files)),
} as unknown as Session;

const projectFile = (): Uint8Array =>
  writeProjectFile({ document: engine.document, mesh: engine.mesh, ...engine.everything() });

/** Everything that the application writes by some settings, but what names the time. */
async function ofApplication(settings: DeliverySettings): Promise<Map<string, Uint8Array | string>> {
  const { useProject, useUi, useDelivery, exportMaker } = app;
  useProject.setState({ document: engine.document, mesh: engine.mesh, surface: engine.surface });
  useDelivery.setState({ settings });
  // The outline leaves as the toon view shows it.
  const { outline } = settings;
  if (outline)
    useUi.setState(({ toon }) => ({ toon: { ...toon, width: outline.width, outline: outline.color } }));
  const maker = exportMaker(session, engine.document, {
    signal: new AbortController().signal,
    onProgress: () => undefined,
  });
  const made = new Map<string, Uint8Array | string>();
  for (const exportItem of exportsOf(engine.document, maker.settings))
    if (settings.parcels.includes(exportItem) && exportItem !== 'report')
      for (const [name, bytes] of await maker.exportItem(exportItem)) made.set(name, bytes);
  return made;
}

/** The same by a job, as the command line and the server do it. */
async function ofJob(settings: DeliverySettings): Promise<Map<string, Uint8Array | string>> {
  const files = new FileSet(
    new Map([
      ['project.zip', projectFile()],
      ['settings.json', new TextEncoder().encode(JSON.stringify(settings))],
    ]),
  );
  const job = {
    do: 'deliver',
    project: 'project.zip',
    size: null,
    ora: false,
    plain: false,
    settings: 'settings.json',
  } as const;
  const made = new Map((await doJob(job, files)).files);
  for (const name of made.keys()) if (name.endsWith('report.json')) made.delete(name);
  return made;
}

const bytesOf = (made: ReadonlyMap<string, Uint8Array | string>): Record<string, string> =>
  Object.fromEntries(
    [...made]
      .map(([name, data]) => [name, Buffer.from(data).toString('base64')])
      .sort(([a], [b]) => (a! < b! ? -1 : 1)),
  );

const text = (base64: string): string => Buffer.from(base64, 'base64').toString();

const EVERYTHING = [
  'albedo',
  'detail',
  'model',
  'toon-model',
  'obj',
  'layers',
  'layer-pictures',
  'layout',
  'palette-strip',
  'palette-tokens',
  'recipe',
];

it.each([
  ...TEXTURE_FORMATS.filter((format) => !format.startsWith('webp')).map((format) => ({
    format,
    parcels: ['albedo', 'model'],
  })),
  { size: 64, bleed: 4, alpha: 'painted' },
  { size: 0, bleed: null },
  { size: null, names: '{project}_{what}' },
  { outline: { width: 0.02, color: '#221100' } },
  { outline: { width: 0, color: '#221100' } },
  { halving: 'encoded', format: 'ktx2', parcels: ['albedo'] },
  { channels: { r: 'line', g: 'dark', b: 'shine', a: null } },
])('the application and a job deliver the same bytes by %j', async (wish) => {
  const settings = deliverySettings.parse({ parcels: EVERYTHING, ...wish });
  const [here, there] = [bytesOf(await ofApplication(settings)), bytesOf(await ofJob(settings))];
  expect(Object.keys(there)).toEqual(Object.keys(here));
  for (const name of Object.keys(here)) {
    // A description that was read from a file has its keys in another order.
    if (/\.json$/.test(name))
      expect(JSON.parse(text(there[name]!)), name).toEqual(JSON.parse(text(here[name]!)));
    else expect(there[name] === here[name], name).toBe(true);
  }
});
