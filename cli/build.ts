import { join } from 'node:path';
import { parseRecipe } from '../core/document';
import { isModelFile, modelTitles } from '../core/formats';
import { parseJson } from '../jobs';
import { readBytes } from './local-files';
import { doLocalJob } from './local-job';
import { filesIn, foldersOf, MANY_OPTIONS, runMany } from './many';
import {
  choiceOption,
  sizeOption,
  textOption,
  UsageError,
  type Values,
  option,
  type CliCommand,
  manyOption,
  OUT_FOLDER,
  PLAIN,
  SHEET_SIZE,
} from './options';
import { makeFolder } from './write-out';

export const buildCommand: CliCommand = {
  name: 'build',
  takes: '<models...>',
  does: 'Applies a build-up; writes albedo.png, model.glb and report.json.',
  options: [
    option('--recipe <file.json>', 'the build-up'),
    OUT_FOLDER,
    SHEET_SIZE,
    manyOption('--map <role=part>', 'which part plays a role of the recipe'),
    option('--unwrap', 'lay out models that have no UVs'),
    PLAIN,
    choiceOption('twins', 'what shared texels show: average (usual) or first', ['average', 'first']),
    ...MANY_OPTIONS,
  ],
  more: `
Of several models, or a folder of them, each into a folder of its own; it goes on after one that can't be built,
writes summary.json, and exits with 1 then.`,
  async run(named, values, terminal) {
    const shared = {
      recipe: textOption(values, 'recipe'),
      size: sizeOption(values),
      roles: rolesOption(values),
      unwrap: values['unwrap'] === true,
      twins: values['twins'] === 'first' ? ('first' as const) : ('average' as const),
      plain: values['plain'] === true,
    };
    const out = textOption(values, 'out');
    const models = await filesIn(named, isModelFile, `${modelTitles()} file`);
    const [first] = models;
    if (models.length === 1 && first !== undefined && named[0] === first) {
      const { report } = await doLocalJob({ job: { do: 'build', ...shared, model: first }, out });
      const { unplayed } = report as { unplayed: string[] };
      const idle = unplayed.length ? `; no part plays ${unplayed.join(', ')}` : '';
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
    const jobs = models.map((model, i) => {
      const folder = join(out, folders[i]!);
      return { model, folder, out: folder, job: { do: 'build', ...shared, model } as const };
    });
    return runMany(jobs, values, terminal, {
      summaryFile: join(out, 'summary.json'),
      verb: 'models built',
    });
  },
};

function rolesOption(values: Values): [role: string, part: string][] {
  const given = values['map'];
  return (Array.isArray(given) ? given : []).map((text) => {
    const at = text.indexOf('=');
    if (at < 1 || at === text.length - 1) {
      throw new UsageError(`--map ${text} is not a role and a part, such as trim=Scarf.`);
    }
    return [text.slice(0, at), text.slice(at + 1)];
  });
}
