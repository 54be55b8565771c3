import 'fake-indexeddb/auto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { decodePng } from '../../core/formats';
import { plate } from '../shapes';
import { PLAIN_STROKE, sampleAt } from '../strokes';

/** The lists of things that can be added, and what is added to each as one line more. No other file is touched. */
const LISTS = [
  ['../../core/layers/list', 'LAYER_KINDS', async () => (await import('../examples/bands-layer')).bandsKind],
  ['../../core/cues/list', 'CUES', async () => (await import('../examples/side-cue')).sideKind],
  ['../../core/paint/tools/list', 'TOOLS', async () => (await import('../examples/grey-tool')).greyTool],
  [
    '../../core/formats/list',
    'MODEL_FORMATS',
    async () => (await import('../examples/off-format')).offFormat,
  ],
  ['../../core/commands/list', 'COMMANDS', async () => (await import('../examples/hide-all')).hideAll],
] as const;

type Core = typeof import('../../core/engine') &
  typeof import('../../core/document') &
  typeof import('../../core/project-file');
let core: Core;

beforeAll(async () => {
  vi.resetModules();
  for (const [path, name, toy] of LISTS) {
    vi.doMock(path, async (original) => {
      const list = await original<Record<string, readonly unknown[]>>();
      return { ...list, [name]: [...list[name]!, await toy()] };
    });
  }
  core = {
    ...(await import('../../core/engine')),
    ...(await import('../../core/document')),
    ...(await import('../../core/project-file')),
  };
}, 120_000);

afterAll(() => {
  for (const [path] of LISTS) vi.doUnmock(path);
  vi.resetModules();
});

const MASK = {
  from: 'cue',
  cue: { cue: 'side', reach: 2 },
  join: 'multiply',
  levels: { low: 0, high: 1, gamma: 1 },
  invert: false,
} as const;
const BANDS = { kind: 'bands', name: 'Bands', color: '#2040c0', height: 5, mask: [MASK] };
const STROKE = { ...PLAIN_STROKE, runs: [sampleAt([0, 0, 0], [0, 1, 0], 0.6)] };

/** A project in which each of the toys has done its work. */
async function toyProject() {
  const { createWasmKernels } = await import('../../core/kernels');
  const { measureSurface } = await import('../../core/surface');
  const { measureCue } = await import('../../core/cues');
  const mesh = plate(0.2);
  const engine = new core.Engine({
    surface: measureSurface(mesh, 64),
    kernels: createWasmKernels(),
    document: core.newDocument('Toys', 64),
  });
  const apply = (command: object) => engine.apply(command as Parameters<typeof engine.apply>[0]);
  const [bands] = apply({ do: 'add-layer', layer: BANDS, at: 1 }).ids;
  apply({ do: 'stroke', layer: 2, stroke: STROKE });
  const { erase: _erase, color: _color, ...brushed } = STROKE;
  apply({ do: 'stroke', layer: 2, stroke: { ...brushed, tool: 'grey' } });
  const spec = MASK.cue as unknown as Parameters<typeof measureCue>[1];
  for (const wanted of engine.missingCues()) engine.setCue(wanted, measureCue(engine.surface, wanted));
  return {
    engine,
    apply,
    bands: bands!,
    mesh,
    spec,
    kernels: createWasmKernels(),
    measureSurface,
    measureCue,
  };
}

/** What orange comes to without its colour, by the weights of BT.709. */
const GREY = Math.round(0.2126 * 0xc8 + 0.7152 * 0x3c + 0.0722 * 0x14);

/** Texels of that grey, and of the orange that it was. */
const counted = (engine: InstanceType<Core['Engine']>): [grey: number, orange: number] => {
  const rows = [...core.compositeSheet(engine)];
  const count = (r: number, g: number): number =>
    rows.filter((v, i) => i % 4 === 0 && v === r && rows[i + 1] === g).length;
  return [count(GREY, GREY), count(0xc8, 0x3c)];
};

it('a toy layer, cue, tool and command work in the engine, and in the history', async () => {
  const { engine, apply, bands } = await toyProject();
  expect(engine.missingCues()).toEqual([]);
  const before = core.compositeSheet(engine);
  const [grey, orange] = counted(engine);
  expect([grey > 20, orange]).toEqual([true, 0]);
  // The mask by the toy cue fades the toy layer toward the middle.
  expect(new Set([...before].filter((_, i) => i % 4 === 2)).size).toBeGreaterThan(20);
  apply({ do: 'hide-all', but: bands });
  expect(engine.history.undo).toBe('Hide all but Bands');
  expect(engine.document.layers.filter((n) => n.visible).map((n) => n.id)).toEqual([bands]);
  engine.undo();
  expect(core.compositeSheet(engine)).toEqual(before);
  expect(engine.history.labels).toEqual(['Add Bands', 'Paint stroke', 'Grey', 'Hide all but Bands']);
});

it('come back from a project file and from storage, and are made again at another size', async () => {
  const { engine, mesh, kernels, measureSurface, measureCue } = await toyProject();
  const { document } = engine;
  const rows = core.compositeSheet(engine);
  const file = core.writeProjectFile({ document, mesh, ...engine.everything() });
  const data = core.readProjectFile(file);
  expect(data.document.layers).toEqual(document.layers);
  const { addProject, loadProject, ProjectStore } = await import('../../storage');
  const store = new ProjectStore('toys');
  await addProject(store, 'a', data, 1000);
  const loaded = await loadProject(store, 'a');
  expect(loaded.lostStrokes).toBe(0);
  const opened = new core.Engine({ ...loaded, surface: measureSurface(mesh, 64), kernels });
  for (const spec of opened.missingCues()) opened.setCue(spec, measureCue(opened.surface, spec));
  expect(core.compositeSheet(opened)).toEqual(rows);
  const larger = await core.engineAtSize(data, 128, kernels);
  expect(larger.strokesOf(2).map((s) => s.tool)).toEqual(['brush', 'grey']);
  const [grey, orange] = counted(larger);
  expect([grey > 80, orange]).toEqual([true, 0]);
});

it('are laid by a recipe on a model in the toy format, from the command line', async () => {
  const { engine } = await toyProject();
  const recipe = core.recipeFromDocument(engine.document);
  expect(recipe.layers).toContainEqual(expect.objectContaining({ kind: 'bands', mask: [MASK] }));
  expect(core.parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
  const folder = mkdtempSync(join(tmpdir(), 'zanahoria-toys-'));
  writeFileSync(join(folder, 'toys.json'), JSON.stringify(recipe));
  writeFileSync(
    join(folder, 'house.off'),
    'OFF\n8 6 0\n0 0 0\n1 0 0\n1 1 0\n0 1 0\n0 0 1\n1 0 1\n1 1 1\n0 1 1\n4 3 2 1 0\n4 4 5 6 7\n4 0 1 5 4\n4 2 3 7 6\n4 1 2 6 5\n4 3 0 4 7\n',
  );
  const { run } = await import('../../cli/run');
  const words: string[] = [];
  const terminal = { out: () => undefined, error: (text: string) => void words.push(text) };
  const args = [
    '--recipe',
    join(folder, 'toys.json'),
    '--out',
    join(folder, 'built'),
    '--size',
    '64',
    '--unwrap',
  ];
  expect([await run(['build', join(folder, 'house.off'), ...args], terminal), words]).toEqual([0, []]);
  const report = JSON.parse(readFileSync(join(folder, 'built', 'report.json'), 'utf8')) as {
    triangles: number;
    layers: { kind: string }[];
  };
  expect(report.triangles).toBe(12);
  expect(report.layers.map((l) => l.kind)).toContain('bands');
  const { rgba } = decodePng(new Uint8Array(readFileSync(join(folder, 'built', 'albedo.png'))));
  expect([...rgba].filter((v, i, all) => i % 4 === 2 && v > all[i - 2]! + 40).length).toBeGreaterThan(50);
}, 120_000);
