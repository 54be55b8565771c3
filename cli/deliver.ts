import { join } from 'node:path';
import { doLocalJob } from './local-job';
import { filesIn, foldersOf, MANY_OPTIONS, runMany } from './many';
import { sizeOption, textOption, option, type CliCommand, OUT_FOLDER, PLAIN } from './options';
import { makeFolder } from './write-out';

const PROJECT_FILE = /\.zip$/i;

/** Paints project files again without a browser, and writes what leaves. @returns 0 if all went well */
export const deliverCommand: CliCommand = {
  name: 'deliver',
  takes: '<projects...>',
  does: 'Paints project files again, stroke by stroke where the size is another, and writes what leaves.',
  options: [
    OUT_FOLDER,
    option('--size <texels>', 'of the sheets (as they are)'),
    option('--ora', 'the layers too, as OpenRaster'),
    PLAIN,
    option(
      '--settings <file.json>',
      'what the Deliver stage set last, as its report holds it: format, bleed, names, and what leaves',
    ),
    ...MANY_OPTIONS,
  ],
  more: `
Writes albedo.png (albedo-N.png of several sheets), model.glb and report.json;
prints {"layers","strokes","texelHash","seconds"}.`,
  async run(named, values, terminal) {
    const out = textOption(values, 'out');
    const shared = {
      size: values['size'] === undefined ? null : sizeOption(values),
      ora: values['ora'] === true,
      plain: values['plain'] === true,
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
  },
};
