import { readdir, stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, join } from 'node:path';
import { parseRecipe } from '../core/engine';
import { buildMany } from './build-many';
import { buildModel, parseJson, type BuildJob } from './build-model';
import {
  numberOption,
  readBytes,
  readManyOptions,
  sizeOption,
  textOption,
  UsageError,
  type Terminal,
  type Values,
} from './options';
import { makeFolder, writeOut } from './write-out';

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
