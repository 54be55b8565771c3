import { createHash } from 'node:crypto';
import { readFile, readdir, stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { z } from 'zod';
import { ProcessPool, type JobFigures } from '../jobs';
import type { JobDone } from './job-process';
import { filesOf } from './local-files';
import { checkedJob, type LocalJob } from './local-job';
import { numberOption, option, UsageError, type Terminal, type Values } from './options';
import { makeFolder, writeOut } from './write-out';

/** A line of the summary. */
export type JobRow =
  | ({ readonly model: string; readonly seconds: number; readonly unchanged?: true } & JobFigures)
  | { readonly model: string; readonly error: string };

const WORKER = new URL('job-process.ts', import.meta.url);

/** A job and what it is called in the summary. */
export interface NamedJob extends LocalJob {
  readonly model: string;
  /** The folder that remembers what was made from which inputs. */
  readonly folder: string;
}

/** Options of everything that is done to many. */
export const MANY_OPTIONS = [
  option('--jobs <count>', 'how many at a time (all cores)'),
  option('--anew', 'make again what was made from the same inputs before'),
];

/**
 * Does many jobs on all cores, goes on after one that can't be done, leaves alone what is done and unchanged, and writes a summary.
 *
 * @param summaryFile where it is written
 * @param isFine whether a row needs nobody
 * @returns 0 if all are fine, 1 if not
 */
export async function runMany(
  jobs: readonly NamedJob[],
  values: Values,
  terminal: Terminal,
  { summaryFile, verb, isFine }: { summaryFile: string; verb: string; isFine?: (row: JobRow) => boolean },
): Promise<number> {
  const wanted = Math.round(numberOption(values, 'jobs', availableParallelism()));
  if (wanted < 1) throw new UsageError('--jobs must be 1 or more.');
  const rows = await doMany(jobs, wanted, values['anew'] === true, (done, row) =>
    terminal.error(`${done} of ${jobs.length}: ${row.model}${howItWent(row)}\n`),
  );
  await writeOut(new Map([[summaryFile, `${JSON.stringify(rows, null, 2)}\n`]]));
  const failed = rows.filter((row) => 'error' in row || (isFine && !isFine(row))).length;
  terminal.out(
    values['json']
      ? `${JSON.stringify(rows)}\n`
      : `${rows.length - failed} of ${rows.length} ${verb}; ${basename(summaryFile)} written to ${join(summaryFile, '..')}\n`,
  );
  return failed ? 1 : 0;
}

const howItWent = (row: JobRow): string =>
  'error' in row
    ? `: ${String(row.error)}`
    : row.unchanged
      ? ', as it was'
      : `, ${Number(row.seconds).toFixed(1)} s${row['ok'] === false ? `: ${(row['findings'] as string[]).join(' ')}` : ''}`;

/** @returns one row a job, in their order */
async function doMany(
  jobs: readonly NamedJob[],
  processes: number,
  anew: boolean,
  onDone: (done: number, row: JobRow) => void,
): Promise<JobRow[]> {
  const rows: JobRow[] = [];
  const pool = new ProcessPool<LocalJob, JobDone>(WORKER, Math.min(processes, jobs.length));
  const program = await programHash();
  let next = 0;
  let done = 0;
  const work = async (): Promise<void> => {
    for (let i = next++; i < jobs.length; i = next++) {
      const row = await rowOf(jobs[i]!, pool, program, anew);
      rows[i] = row;
      onDone(++done, row);
    }
  };
  try {
    await Promise.all(Array.from({ length: pool.size }, work));
  } finally {
    pool.close();
  }
  return rows;
}

/** What came of one job; what goes wrong with it, also when it is remembered, is told in its row. */
async function rowOf(
  { model, job, out, folder }: NamedJob,
  pool: ProcessPool<LocalJob, JobDone>,
  program: string,
  anew: boolean,
): Promise<JobRow> {
  try {
    const local: LocalJob = { job, out };
    const key = await keyOf(local, program);
    const madeFile = join(folder, `.made-${job.do}.json`);
    const known = anew ? null : await madeBefore(madeFile, key, out);
    if (known) return { model, ...known, unchanged: true };
    const { figures, seconds } = await pool.ask(local);
    const row = { seconds, ...figures };
    await makeFolder(folder);
    await writeOut(new Map([[madeFile, `${JSON.stringify({ key, row })}\n`]]));
    return { model, ...row };
  } catch (error) {
    return { model, error: error instanceof Error ? error.message : String(error) };
  }
}

const madeSchema = z.object({ key: z.string(), row: z.looseObject({ seconds: z.number() }) });

/** The row of a job that was done from the same inputs, and whose files are still there; null if it has to be done. */
async function madeBefore(
  madeFile: string,
  key: string,
  out: string | null,
): Promise<z.infer<typeof madeSchema>['row'] | null> {
  try {
    const made = madeSchema.parse(JSON.parse(await readFile(madeFile, 'utf8')));
    const isThere = out === null || (await stat(join(out, 'report.json'))).isFile();
    return made.key === key && isThere ? made.row : null;
  } catch {
    // Nothing was made yet, or nobody can tell from what.
    return null;
  }
}

/** Tells a job's inputs, all that they speak of, and the program that does it from others. */
async function keyOf({ job: wish, out }: LocalJob, program: string): Promise<string> {
  const job = checkedJob(wish);
  const hash = createHash('sha256').update(`${program} ${JSON.stringify([job, out])}`);
  const files = await filesOf(job);
  for (const name of files.names) hash.update(` ${name} `).update(files.require(name));
  return hash.digest('hex');
}

/** Names the program as it is: what another one made is made anew. */
async function programHash(): Promise<string> {
  const hash = createHash('sha256');
  for (const folder of ['core', 'jobs', 'cli']) {
    const root = fileURLToPath(new URL(`../${folder}`, import.meta.url));
    const names = (await readdir(root, { recursive: true })).filter((f) => /\.ts$/.test(f)).sort();
    for (const name of names) hash.update(`${folder}/${name} `).update(await readFile(join(root, name)));
  }
  return hash.digest('hex');
}

const isFolder = (path: string): Promise<boolean> =>
  stat(path).then(
    (s) => s.isDirectory(),
    () => false,
  );

/** The files that are named, those of folders in the order of their names. @throws UsageError */
export async function filesIn(
  named: readonly string[],
  isKind: (name: string) => boolean,
  what: string,
): Promise<string[]> {
  const out: string[] = [];
  for (const path of named) {
    if (!(await isFolder(path))) {
      out.push(path);
      continue;
    }
    const files = (await readdir(path)).filter(isKind).sort();
    if (files.length === 0) throw new UsageError(`In “${path}” there is no ${what}.`);
    out.push(...files.map((f) => join(path, f)));
  }
  return out;
}

/** Folders with what `build` and `deliver` wrote: the folder itself, or those in it. null where a file is named. */
export async function builtFolders(path: string): Promise<{ folder: string; files: string[] }[] | null> {
  if (!(await isFolder(path))) return null;
  const out: { folder: string; files: string[] }[] = [];
  const inside = (await readdir(path, { withFileTypes: true })).filter((e) => e.isDirectory());
  for (const folder of [path, ...inside.map((e) => join(path, e.name)).sort()]) {
    const files = (await readdir(folder)).sort();
    if (files.includes('model.glb')) out.push({ folder, files });
  }
  if (out.length > 0) return out;
  throw new UsageError(
    `In “${path}” there is no folder with model.glb and albedo.png in it, as build and deliver write them.`,
  );
}

/** A folder for each file, called as it is; with what tells apart those that are called alike. */
export function foldersOf(files: readonly string[]): string[] {
  const plain = files.map((m) => basename(m).replace(/\.\w+$/, ''));
  const taken = new Set<string>();
  return plain.map((name, i) => {
    let free = plain.indexOf(name) === plain.lastIndexOf(name) ? name : basename(files[i]!);
    for (let n = 2; taken.has(free); n++) free = `${basename(files[i]!)} ${n}`;
    taken.add(free);
    return free;
  });
}
