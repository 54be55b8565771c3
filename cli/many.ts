import { fork, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readFile, readdir, stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import { z } from 'zod';
import { askProcess, hasEnded } from './ask-process';
import { folderOf, inputsOf, type Job, type JobFigures } from './jobs';
import { numberOption, UsageError, type Terminal, type Values } from './options';
import { makeFolder, writeOut } from './write-out';

/** A line of the summary. */
export type JobRow =
  | ({ readonly model: string; readonly seconds: number; readonly unchanged?: true } & JobFigures)
  | { readonly model: string; readonly error: string };

/** What a process that does jobs tells. */
export type JobAnswer =
  { readonly figures: JobFigures; readonly seconds: number } | { readonly error: string };

/** Reads TypeScript, in whatever way this process was started. */
const LOADER = import.meta.resolve('tsx');
const WORKER = fileURLToPath(new URL('job-process.ts', import.meta.url));

/** A job and what it is called in the summary. */
export interface NamedJob {
  readonly model: string;
  readonly job: Job;
}

/** Options of everything that is done to many. */
export const MANY_OPTIONS = { jobs: { type: 'string' }, anew: { type: 'boolean' } } as const;

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
  let next = 0;
  let done = 0;
  const work = async (): Promise<void> => {
    let child: ChildProcess | null = null;
    for (let i = next++; i < jobs.length; i = next++) {
      const { model, job } = jobs[i]!;
      const key = await keyOf(job);
      const known = anew ? null : await madeBefore(job, key);
      if (known) rows[i] = { model, ...known, unchanged: true };
      else {
        child ??= fork(WORKER, {
          stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
          execArgv: ['--import', LOADER],
        });
        const answer = await ask(child, job);
        // One that died is followed by a new one.
        if (hasEnded(child)) child = null;
        if ('error' in answer) rows[i] = { model, error: answer.error };
        else {
          const row = { seconds: answer.seconds, ...answer.figures };
          rows[i] = { model, ...row };
          await keepMade(job, key, row);
        }
      }
      onDone(++done, rows[i]!);
    }
    child?.disconnect();
  };
  await Promise.all(Array.from({ length: Math.min(processes, jobs.length) }, work));
  return rows;
}

async function ask(child: ChildProcess, job: Job): Promise<JobAnswer> {
  try {
    return (await askProcess(child, job)) as JobAnswer;
  } catch (error) {
    return { error: error instanceof Error ? error.message : String(error) };
  }
}

/** What was made from which inputs stands beside what was made. */
const madeFile = (job: Job): string => join(folderOf(job), `.made-${job.do}.json`);

const madeSchema = z.object({ key: z.string(), row: z.looseObject({ seconds: z.number() }) });

/** The row of a job that was done from the same inputs, and whose files are still there; null if it has to be done. */
async function madeBefore(job: Job, key: string): Promise<z.infer<typeof madeSchema>['row'] | null> {
  try {
    const made = madeSchema.parse(JSON.parse(await readFile(madeFile(job), 'utf8')));
    const isThere = job.do === 'check' || (await stat(join(folderOf(job), 'report.json'))).isFile();
    return made.key === key && isThere ? made.row : null;
  } catch {
    return null;
  }
}

async function keepMade(job: Job, key: string, row: JobFigures): Promise<void> {
  await makeFolder(folderOf(job));
  await writeOut(new Map([[madeFile(job), `${JSON.stringify({ key, row })}\n`]]));
}

/** Counts up when the same inputs come to something else. */
const REVISION = 1;

/** Tells a job's inputs, and how it is done, from others. */
async function keyOf(job: Job): Promise<string> {
  const hash = createHash('sha256').update(`${REVISION} ${JSON.stringify(job)}`);
  for (const file of inputsOf(job)) {
    // What can't be read is told when the job is done. A glTF's pictures aren't read; its .bin is.
    for (const path of [file, ...(/\.gltf$/i.test(file) ? [file.replace(/\.gltf$/i, '.bin')] : [])]) {
      hash.update(` ${path} `);
      await pipeline(createReadStream(path), async function (chunks) {
        for await (const chunk of chunks) hash.update(chunk as Buffer);
      }).catch(() => hash.update('none'));
    }
  }
  return hash.digest('hex');
}

export const MODEL_FILE = /\.(glb|gltf|obj|ply|stl)$/i;

const isFolder = (path: string): Promise<boolean> =>
  stat(path).then(
    (s) => s.isDirectory(),
    () => false,
  );

/** The files that are named, those of folders in the order of their names. @throws UsageError */
export async function filesIn(named: readonly string[], kind: RegExp, what: string): Promise<string[]> {
  const out: string[] = [];
  for (const path of named) {
    if (!(await isFolder(path))) {
      out.push(path);
      continue;
    }
    const files = (await readdir(path)).filter((f) => kind.test(f)).sort();
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
export function foldersOf(files: readonly string[], kind: RegExp): string[] {
  const plain = files.map((m) => basename(m).replace(kind, ''));
  const taken = new Set<string>();
  return plain.map((name, i) => {
    let free = plain.indexOf(name) === plain.lastIndexOf(name) ? name : basename(files[i]!);
    for (let n = 2; taken.has(free); n++) free = `${basename(files[i]!)} ${n}`;
    taken.add(free);
    return free;
  });
}
