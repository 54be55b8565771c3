import { mkdtemp, mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { doJob, type Job } from '../../cli/jobs';
import { USUAL_CHECK } from '../../core/checks';
import { zipOf } from '../../core/delivery';
import { CoreError } from '../../core/errors';
import { readJob, type SentJob } from './job-request';

/**
 * Does a job as the command line would, in a folder of its own that goes afterwards.
 *
 * @param bytes the zip that was sent
 * @returns what it makes, as a zip; always with `result.json`
 * @throws UsageError, CoreError, OutputError with a sentence
 */
export async function runJob(
  bytes: Uint8Array,
  onProgress: (done: number) => void = () => undefined,
): Promise<Uint8Array> {
  const sent = readJob(bytes);
  try {
    const folder = await mkdtemp(join(tmpdir(), 'zanahoria-job-'));
    try {
      return await runIn(folder, sent, onProgress);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  } catch (error) {
    const { code } = error as { code?: string };
    if (code !== 'ENOSPC' && code !== 'EDQUOT') throw error;
    throw new CoreError(
      'storage-full',
      'The server’s disk is full, so the job could not be done. Free some space there and send it again.',
      { cause: error },
    );
  }
}

async function runIn(folder: string, sent: SentJob, onProgress: (done: number) => void): Promise<Uint8Array> {
  const out = join(folder, 'out');
  await mkdir(out);
  // Names are those that a job may have: none leads out of the folder.
  for (const [name, file] of sent.files) await writeFile(join(folder, name), file);
  const figures = await doJob(jobOf(sent, folder, out), onProgress);
  const names = await readdir(out, { recursive: true, withFileTypes: true });
  const files: [string, Uint8Array | string][] = [['result.json', `${JSON.stringify(figures, null, 2)}\n`]];
  for (const entry of names) {
    if (!entry.isFile()) continue;
    const path = join(entry.parentPath, entry.name);
    files.push([path.slice(out.length + 1).replaceAll('\\', '/'), new Uint8Array(await readFile(path))]);
  }
  return zipOf(files);
}

function jobOf({ request, files }: SentJob, folder: string, out: string): Job {
  const named = (start: string): string[] =>
    [...files.keys()]
      .filter((name) => name.startsWith(start))
      .sort()
      .map((name) => join(folder, name));
  switch (request.do) {
    case 'build': {
      const { size, roles, unwrap } = request;
      const job = { model: named('model')[0]!, recipe: named('recipe')[0]!, out, size, roles, unwrap };
      return { do: 'build', job };
    }
    case 'deliver': {
      const { size, ora } = request;
      const job = { file: named('project')[0]!, out, size, ora, settings: named('settings')[0] ?? null };
      return { do: 'deliver', job };
    }
    case 'check': {
      const how = { ...USUAL_CHECK, mips: request.mips, limit: request.limit };
      return { do: 'check', job: { model: named('model')[0]!, albedos: named('albedo'), how, folder: out } };
    }
    case 'match': {
      const [model, albedo, reference] = ['model', 'albedo', 'reference'].map((what) => named(what)[0]!);
      const more = (['camera', 'points', 'mask'] as const).flatMap((what) =>
        named(what).map((file) => [what, file] as const),
      );
      const job = {
        model: model!,
        albedo: albedo!,
        reference: reference!,
        given: Object.fromEntries(more),
        out,
      };
      return { do: 'match', job };
    }
  }
}
