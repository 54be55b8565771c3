import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { MeshoptSimplifier } from 'meshoptimizer';
import {
  documentFromRecipe,
  freePlace,
  parseRecipe,
  type LayerNode,
  type ProjectDocument,
  type Reference,
} from '../core/document';
import { Engine } from '../core/engine';
import { NODE_DEFAULTS } from '../core/layers';
import { writeMeasured, writeProjectFile } from '../core/project-file';
import { cueKind, measureCue, ownCueSurface } from '../core/cues';
import { decodePng, encodePng, readFileMotion, writeUnlitGlb } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { meshHash } from '../core/mesh';
import { measureSurface } from '../core/surface';
import { handPainting, underTheArm } from './hand-painting';
import { bringToReference } from './matched-otter';
import { makeOtter } from './otter';
import { rigOtter, type Rigged } from './otter-rig';
import { PALETTE } from './palette';
import { PATTERNS } from './patterns';
import { makePropProject, PROPS } from './prop-projects';
import { RECIPES } from './recipes';
import { makeInkedLantern, makeRampProps } from './toon-projects';
import { makeFishLantern, makeKettle, makeTurnipCrate } from './props';
import { drawLanternReference, drawOtterReference, drawStallReference } from './references';
import { makeStall } from './stall';
import { makeStallSet } from './stall-set';

const OUT = 'app/public/demo';
const SHEET = 1024;

/** The painted project that the first start opens: the recipe's build-up and two layers painted by hand. */
export async function makeDemoProject(
  { mesh: otter, file }: Rigged,
  pictures: readonly Uint8Array[],
): Promise<{ readonly project: Uint8Array; readonly measured: Uint8Array; readonly matched: Uint8Array }> {
  const recipe = parseRecipe(JSON.parse(await readFile('demo/otter.recipe.json', 'utf8')));
  const base = documentFromRecipe(recipe, SHEET);
  const glazes = base.nextId;
  const lines = glazes + 1;
  const paint = (id: number, name: string, blend: 'normal' | 'soft-light', opacity: number): LayerNode => ({
    ...NODE_DEFAULTS,
    mask: [],
    kind: 'paint',
    id,
    name,
    opacity,
    blend,
  });
  let id = lines + 1;
  const names: readonly (readonly [string, string])[] = [
    ['Fur', PALETTE.fur],
    ['Fur in light', PALETTE.furLight],
    ['Fur in shadow', PALETTE.furShadow],
    ['Cream', PALETTE.cream],
    ['Cream in light', PALETTE.creamLight],
    ['Cream in shadow', PALETTE.creamShadow],
    ['Apron', PALETTE.apron],
    ['Apron in light', PALETTE.apronLight],
    ['Apron in shadow', PALETTE.apronShadow],
    ['Scarf', PALETTE.scarf],
    ['Scarf in light', PALETTE.scarfLight],
    ['Scarf in shadow', PALETTE.scarfShadow],
    ['Headband', PALETTE.band],
    ['Headband in shadow', PALETTE.bandShadow],
    ['Pocket', PALETTE.pocket],
    ['Nose', PALETTE.nose],
    ['Ink', PALETTE.ink],
    ['Lantern', PALETTE.lantern],
  ];
  const document: ProjectDocument = {
    ...base,
    layers: [
      ...base.layers,
      paint(glazes, 'Warm cheeks and glazes', 'normal', 0.85),
      paint(lines, 'Face and lines', 'normal', 1),
    ],
    palette: names.map(([name, color]) => ({ id: id++, name, color, group: '' })),
    references: [
      { name: 'Otter at the stall', width: 640, height: 800 },
      { name: 'The night-snack stall', width: 900, height: 700 },
    ].reduce<Reference[]>(
      (all, picture) => [
        ...all,
        { ...picture, id: id++, board: freePlace(all, picture), note: '', match: null },
      ],
      [],
    ),
    modelFile: { id: id + 2, name: 'otter', placing: null },
    nextId: id + 3,
  };
  const surface = measureSurface(otter, SHEET);
  const files = new Map(document.references.map((r, i) => [r.id, pictures[i]!]));
  files.set(id + 2, file);
  const engine = new Engine({ surface, kernels: createWasmKernels(), document, files });
  const motion = (await readFileMotion(file))!;
  engine.provideMotion(id + 2, motion);
  for (const command of handPainting(otter, glazes, lines)) engine.apply(command);
  engine.apply(underTheArm(otter, motion, id + 2, glazes));
  const project = writeProjectFile({
    document: engine.document,
    mesh: otter,
    ...engine.everything(),
  });
  // Rays take longest at the first opening: they are cast here, once.
  const slow = engine.missingCues().filter((spec) => cueKind(spec).form === 'rays');
  const ground = ownCueSurface(surface, engine.localColors());
  const cues = slow.map((spec) => ({ spec, values: measureCue(surface, spec, { ground }) }));
  cues.forEach(({ spec, values }) => engine.setCue(spec, values));
  const png = pictures[0]!;
  bringToReference(engine, otter, { ...decodePng(png), png });
  const matched = writeProjectFile({
    document: { ...engine.document, name: 'Otter cook, matched' },
    mesh: otter,
    ...engine.everything(),
  });
  return { project, measured: writeMeasured({ model: meshHash(otter), sizes: [SHEET], cues }), matched };
}

/** Hash of everything the demo is made from: it is made again only when that changes. */
async function sourceHash(): Promise<string> {
  const hash = createHash('sha256');
  for (const folder of ['demo', 'core']) {
    const files = (await readdir(folder, { recursive: true })).filter(
      (f) => /\.(ts|json)$/.test(f) && !/\.test\.ts$/.test(f),
    );
    for (const file of files.sort()) hash.update(file).update(await readFile(join(folder, file)));
  }
  return hash.digest('hex');
}

async function main(): Promise<void> {
  const stamp = join(OUT, '.made-from');
  const hash = await sourceHash();
  if (existsSync(stamp) && (await readFile(stamp, 'utf8')) === hash) return;
  await MeshoptSimplifier.ready;
  await mkdir(OUT, { recursive: true });
  const rigged = await rigOtter(makeOtter());
  const models = {
    otter: rigged.mesh,
    lantern: makeFishLantern(),
    kettle: makeKettle(),
    crate: makeTurnipCrate(),
    stall: makeStall(),
  };
  await writeFile(join(OUT, 'otter.glb'), rigged.file);
  for (const name of ['lantern', 'kettle', 'crate'] as const) {
    await writeFile(join(OUT, `${name}.glb`), await writeUnlitGlb(models[name], name, []));
  }
  const pictures = [encodePng(drawOtterReference(models.otter)), encodePng(drawStallReference(models))];
  await writeFile(join(OUT, 'otter-reference.png'), pictures[0]!);
  await writeFile(join(OUT, 'stall-reference.png'), pictures[1]!);
  const { project, measured, matched } = await makeDemoProject(rigged, pictures);
  await writeFile(join(OUT, 'otter-cook.zip'), project);
  await writeFile(join(OUT, 'otter-cook.measured.zip'), measured);
  await writeFile(join(OUT, 'otter-matched.zip'), matched);
  for (const [name, prop] of Object.entries(PROPS)) {
    await writeFile(join(OUT, `${name}.zip`), makePropProject(prop, pictures[1]!));
  }
  const inked = encodePng(drawLanternReference(models.lantern));
  await writeFile(join(OUT, 'lantern-reference.png'), inked);
  await writeFile(join(OUT, 'lantern-inked.zip'), makeInkedLantern(models.lantern, inked));
  await writeFile(
    join(OUT, 'crate-and-kettle.zip'),
    makeRampProps(models.crate, models.kettle, pictures[1]!),
  );
  const atTheStall = new Map([['otter-cook', project]]);
  for (const name of ['lantern', 'kettle', 'crate'])
    atTheStall.set(name, await readFile(join(OUT, `${name}.zip`)));
  await writeFile(join(OUT, 'stall-set.zip'), makeStallSet(atTheStall, pictures[1]!));
  await mkdir(join(OUT, 'patterns'), { recursive: true });
  for (const [name, { draw }] of Object.entries(PATTERNS))
    await writeFile(join(OUT, 'patterns', `${name}.png`), encodePng(draw()));
  await writeFile(
    join(OUT, 'patterns', 'index.json'),
    JSON.stringify(Object.entries(PATTERNS).map(([file, { title }]) => ({ file, title }))),
  );
  await mkdir(join(OUT, 'recipes'), { recursive: true });
  for (const [name, recipe] of Object.entries(RECIPES)) {
    await writeFile(join(OUT, 'recipes', `${name}.json`), `${JSON.stringify(recipe, null, 2)}\n`);
  }
  await writeFile(join(OUT, 'recipes', 'index.json'), JSON.stringify(Object.keys(RECIPES)));
  await writeFile(stamp, hash);
  console.log(
    `demo: four models, three references, six patterns, eight recipes, seven projects and a set in ${OUT}`,
  );
}

if (process.argv[1]?.endsWith('make.ts')) await main();
