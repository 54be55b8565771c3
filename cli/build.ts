import { readdir, stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, join } from 'node:path';
import { measureCue, ownGround } from '../core/cues';
import {
  documentFromRecipe,
  Engine,
  flattenAlbedo,
  layersOf,
  localColor,
  nodesOf,
  parseRecipe,
  rolesOf,
  withRoles,
  type RoleMap,
} from '../core/engine';
import { CoreError } from '../core/errors';
import { encodePng, writeUnlitGlb } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { requireUvs, triangleCount } from '../core/mesh';
import { contentHash } from '../core/math';
import { measureSurface, type SheetSize } from '../core/surface';
import { buildMany } from './build-many';
import {
  numberOption,
  readBytes,
  readManyOptions,
  readModelFile,
  sizeOption,
  textOption,
  UsageError,
  type Terminal,
  type Values,
} from './options';
import { makeFolder, writeOut } from './write-out';

/** One model to be built. */
export interface BuildJob {
  readonly model: string;
  readonly recipe: string;
  readonly out: string;
  readonly size: SheetSize;
  readonly roles: readonly (readonly [role: string, part: string])[];
}

/** What came of it. */
export interface Built {
  readonly recipe: string;
  readonly size: number;
  readonly triangles: number;
  readonly parts: readonly { readonly name: string; readonly color: string | null }[];
  readonly layers: readonly { readonly name: string; readonly kind: string }[];
  readonly coveredTexels: number;
  readonly texelHash: string;
  /** Roles of the recipe that no part plays. */
  readonly unplayed: readonly string[];
}

/**
 * Lays a recipe on a model and writes albedo.png, model.glb and report.json.
 *
 * @throws UsageError, CoreError, OutputError with a sentence
 */
export async function buildModel({ model, recipe: file, out, size, roles }: BuildJob): Promise<Built> {
  const mesh = requireUvs(await readModelFile(model));
  const recipe = withRoles(
    parseRecipe(parseJson(await readBytes(file), file)),
    rolePlayers(roles),
    mesh.parts,
  );
  const surface = measureSurface(mesh, size);
  const engine = new Engine({
    surface,
    kernels: createWasmKernels(),
    document: documentFromRecipe(recipe, size),
  });
  const ground = ownGround(surface);
  for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(surface, spec, { ground }));
  const picture = flattenAlbedo(engine, { size, bleed: Infinity });
  const png = encodePng(picture);
  const report: Built = {
    recipe: recipe.name,
    size,
    triangles: triangleCount(mesh),
    parts: mesh.parts.map((name) => ({ name, color: localColorOf(recipe, name) })),
    layers: [...nodesOf(recipe.layers)].map(({ node }) => ({ name: node.name, kind: node.kind })),
    coveredTexels: surface.coveredTexels,
    texelHash: contentHash(picture.rgba),
    unplayed: rolesOf(recipe).filter((role) => !mesh.parts.includes(role)),
  };
  await makeFolder(out);
  await writeOut(
    new Map<string, Uint8Array | string>([
      [join(out, 'albedo.png'), png],
      [join(out, 'model.glb'), await writeUnlitGlb(mesh, recipe.name, [png])],
      [join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`],
    ]),
  );
  return report;
}

export async function runBuild(args: readonly string[], terminal: Terminal): Promise<number> {
  const { models: named, values } = readManyOptions(args, {
    recipe: { type: 'string' },
    out: { type: 'string' },
    map: { type: 'string', multiple: true },
    jobs: { type: 'string' },
  });
  const shared = {
    recipe: textOption(values, 'recipe'),
    size: sizeOption(values),
    roles: rolesOption(values),
  };
  const out = textOption(values, 'out');
  const models = await modelFiles(named);
  const [first] = models;
  if (models.length === 1 && first !== undefined && named[0] === first) {
    const report = await buildModel({ ...shared, model: first, out });
    const idle = report.unplayed.length ? `; no part plays ${report.unplayed.join(', ')}` : '';
    terminal.out(
      values['json']
        ? `${JSON.stringify(report)}\n`
        : `albedo.png, model.glb and report.json written to ${out}${idle}\n`,
    );
    return 0;
  }
  // What is wrong with the recipe is wrong for all of them: told before any is begun.
  parseRecipe(parseJson(await readBytes(shared.recipe), shared.recipe));
  await makeFolder(out);
  const folders = foldersOf(models);
  const jobs = models.map((model, i): BuildJob => ({ ...shared, model, out: join(out, folders[i]!) }));
  const wanted = Math.round(numberOption(values, 'jobs', availableParallelism()));
  if (wanted < 1) throw new UsageError('--jobs must be 1 or more.');
  const summary = await buildMany(jobs, wanted, (done, row) =>
    terminal.error(
      `${done} of ${jobs.length}: ${row.model}${'error' in row ? `: ${row.error}` : `, ${row.seconds.toFixed(1)} s`}\n`,
    ),
  );
  await writeOut(new Map([[join(out, 'summary.json'), `${JSON.stringify(summary, null, 2)}\n`]]));
  const failed = summary.filter((row) => 'error' in row).length;
  terminal.out(
    values['json']
      ? `${JSON.stringify(summary)}\n`
      : `${summary.length - failed} of ${summary.length} models built; summary.json written to ${out}\n`,
  );
  return failed ? 1 : 0;
}

const MODEL_FILE = /\.(glb|gltf|obj|ply|stl)$/i;

/** The model files that are named, those of folders in the order of their names. */
async function modelFiles(named: readonly string[]): Promise<string[]> {
  const out: string[] = [];
  for (const path of named) {
    const isFolder = await stat(path).then(
      (s) => s.isDirectory(),
      () => false,
    );
    if (!isFolder) {
      out.push(path);
      continue;
    }
    const files = (await readdir(path)).filter((f) => MODEL_FILE.test(f)).sort();
    if (files.length === 0) throw new UsageError(`In “${path}” there is no GLB, glTF, OBJ, PLY or STL file.`);
    out.push(...files.map((f) => join(path, f)));
  }
  return out;
}

/** A folder for each model, called as its file; with what tells apart those that are called alike. */
function foldersOf(models: readonly string[]): string[] {
  const plain = models.map((m) => basename(m).replace(MODEL_FILE, ''));
  const taken = new Set<string>();
  return plain.map((name, i) => {
    let free = plain.indexOf(name) === plain.lastIndexOf(name) ? name : basename(models[i]!);
    for (let n = 2; taken.has(free); n++) free = `${basename(models[i]!)} ${n}`;
    taken.add(free);
    return free;
  });
}

function rolesOption(values: Values): BuildJob['roles'] {
  const given = values['map'];
  return (Array.isArray(given) ? given : []).map((text) => {
    const at = text.indexOf('=');
    if (at < 1 || at === text.length - 1) {
      throw new UsageError(`--map ${text} is not a role and a part, such as trim=Scarf.`);
    }
    return [text.slice(0, at), text.slice(at + 1)] as const;
  });
}

/** Parts by the role they play. */
function rolePlayers(roles: BuildJob['roles']): RoleMap {
  const out = new Map<string, string[]>();
  for (const [role, part] of roles) out.set(role, [...(out.get(role) ?? []), part]);
  return [...out];
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
