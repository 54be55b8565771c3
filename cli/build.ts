import { join } from 'node:path';
import { measureCue } from '../core/cues';
import {
  documentFromRecipe,
  Engine,
  flattenAlbedo,
  layersOf,
  localColor,
  nodesOf,
  parseRecipe,
} from '../core/engine';
import { CoreError } from '../core/errors';
import { encodePng, writeUnlitGlb } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { requireUvs, triangleCount } from '../core/mesh';
import { contentHash } from '../core/math';
import { measureSurface } from '../core/surface';
import { makeFolder, writeOut } from './write-out';
import { readBytes, readModelFile, readOptions, sizeOption, textOption } from './options';

export async function runBuild(args: readonly string[], print: (text: string) => void): Promise<void> {
  const { model, values } = readOptions(args, { recipe: { type: 'string' }, out: { type: 'string' } });
  const size = sizeOption(values);
  const out = textOption(values, 'out');
  const recipeFile = textOption(values, 'recipe');
  const recipe = parseRecipe(parseJson(await readBytes(recipeFile), recipeFile));
  const mesh = requireUvs(await readModelFile(model));

  const surface = measureSurface(mesh, size);
  const engine = new Engine({
    surface,
    kernels: createWasmKernels(),
    document: documentFromRecipe(recipe, size),
  });
  for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(surface, spec));
  const picture = flattenAlbedo(engine, { size, bleed: Infinity });
  const png = encodePng(picture);
  const report = {
    recipe: recipe.name,
    size,
    triangles: triangleCount(mesh),
    parts: mesh.parts.map((name) => ({ name, color: localColorOf(recipe, name) })),
    layers: [...nodesOf(recipe.layers)].map(({ node }) => ({ name: node.name, kind: node.kind })),
    coveredTexels: surface.coveredTexels,
    texelHash: contentHash(picture.rgba),
  };
  await makeFolder(out);
  await writeOut(
    new Map<string, Uint8Array | string>([
      [join(out, 'albedo.png'), png],
      [join(out, 'model.glb'), await writeUnlitGlb(mesh, recipe.name, [png])],
      [join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`],
    ]),
  );
  print(
    values['json']
      ? `${JSON.stringify(report)}\n`
      : `albedo.png, model.glb and report.json written to ${out}\n`,
  );
}

function localColorOf(recipe: ReturnType<typeof parseRecipe>, part: string): string | null {
  const layer = layersOf(recipe.layers).find((l) => l.kind === 'local');
  return layer ? localColor(layer, part) : null;
}

function parseJson(bytes: Uint8Array, name: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch (cause) {
    throw new CoreError(
      'document-invalid',
      `“${name}” is not JSON. A recipe is described in docs/recipe.md.`,
      { cause },
    );
  }
}
