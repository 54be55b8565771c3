import { join } from 'node:path';
import { doLocalJob } from './local-job';
import { filesIn, foldersOf, MANY_OPTIONS, runMany } from './many';
import { readManyOptions, sizeOption, textOption, type Terminal } from './options';
import { makeFolder } from './write-out';

const PROJECT_FILE = /\.zip$/i;

/** Paints project files again without a browser, and writes what leaves. @returns 0 if all went well */
export async function runDeliver(args: readonly string[], terminal: Terminal): Promise<number> {
  const { models: named, values } = readManyOptions(args, {
    out: { type: 'string' },
    ora: { type: 'boolean' },
    settings: { type: 'string' },
    ...MANY_OPTIONS,
  });
  const out = textOption(values, 'out');
  const shared = {
    size: values['size'] === undefined ? null : sizeOption(values),
    ora: values['ora'] === true,
    ...(values['settings'] !== undefined && { settings: textOption(values, 'settings') }),
  };
  const files = await filesIn(named, (name) => PROJECT_FILE.test(name), 'project file (.zip)');
  const [first] = files;
  if (files.length === 1 && first !== undefined && named[0] === first) {
    let told = 0;
    const job = { do: 'deliver', ...shared, project: first } as const;
    const { report } = await doLocalJob({ job, out }, (done) => {
      const percent = Math.floor(done * 10) * 10;
      if (percent > told) terminal.error(`painting again: ${percent} %\n`);
      told = Math.max(told, percent);
    });
    terminal.out(`${JSON.stringify(report)}\n`);
    return 0;
  }
  await makeFolder(out);
  const folders = foldersOf(files);
  const jobs = files.map((file, i) => {
    const folder = join(out, folders[i]!);
    return { model: file, folder, out: folder, job: { do: 'deliver', ...shared, project: file } as const };
  });
  return runMany(jobs, values, terminal, {
    summaryFile: join(out, 'summary.json'),
    verb: 'projects delivered',
  });
}
