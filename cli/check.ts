import { join } from 'node:path';
import { USUAL_CHECK } from '../core/delivery';
import type { JobOf } from '../jobs';
import { doLocalJob } from './local-job';
import { builtFolders, MANY_OPTIONS, runMany } from './many';
import { numberOption, UsageError, type Values, option, type CliCommand, manyOption } from './options';

/** Checks a model and its albedo, or a folder of what was built. @returns 0 if all may leave, 1 if not */
export const checkCommand: CliCommand = {
  name: 'check',
  takes: '<model>',
  does: 'Whether a painted model, or a folder of what was built, may leave; exit code 1 if it may not.',
  options: [
    manyOption('--albedo <a.png>', 'the picture of each sheet, in their order'),
    option('--mips <levels>', 'halvings that are looked at (4)'),
    option('--limit <deltaE>', 'difference along borders that is none (2)'),
    option('--range <low,high>', 'lightness that is allowed (0,100)'),
    option('--density <factor>', 'how uneven texels may be (4)'),
    option('--game <pixels>', 'size at which parts must stay apart (128)'),
    ...MANY_OPTIONS,
  ],
  more: `
It looks for other colours along borders in the halvings (CIEDE2000), bleed, texels without colour, distances of islands,
islands on one another, density, lightness out of range, steps in slopes, and parts that merge at game size. It prints
{"seams":[{"part","mip","length","deltaE"}],"unpainted","bleed","gap",...,"findings","ok"}. Of a folder that build or deliver
wrote it looks at all in it, and writes check.json there.`,
  async run([model], values, terminal) {
    const how = checkHow(values);
    const albedos = (values['albedo'] ?? []) as string[];
    const folders = await builtFolders(model);
    if (folders) {
      const jobs = folders.map(({ folder, files }) => ({
        model: folder,
        folder,
        out: null,
        job: {
          do: 'check',
          model: join(folder, 'model.glb'),
          albedos: files.filter((f) => /^albedo(-\d+)?\.png$/.test(f)).map((f) => join(folder, f)),
          how,
        } as const,
      }));
      return runMany(jobs, values, terminal, {
        summaryFile: join(model, 'check.json'),
        verb: 'may leave',
        isFine: (row) => !('error' in row) && row['ok'] === true,
      });
    }
    if (albedos.length === 0)
      throw new UsageError('--albedo is missing: the picture of each sheet, in their order.');
    const { report } = await doLocalJob({ job: { do: 'check', model, albedos, how }, out: null });
    const { findings, ok } = report as { findings: { says: string; weight: string }[]; ok: boolean };
    terminal.out(`${JSON.stringify(report)}\n`);
    for (const { says, weight } of findings) terminal.error(`${weight}: ${says}\n`);
    return ok ? 0 : 1;
  },
};

/** What is asked, by the options. @throws UsageError */
function checkHow(values: Values): JobOf<'check'>['how'] {
  const mips = numberOption(values, 'mips', USUAL_CHECK.mips);
  const gameSize = numberOption(values, 'game', USUAL_CHECK.gameSize);
  if (!Number.isInteger(mips) || mips < 0 || mips > 8) throw new UsageError('--mips is 0 to 8.');
  if (!Number.isInteger(gameSize) || gameSize < 8 || gameSize > 2048)
    throw new UsageError('--game is 8 to 2048 pixels.');
  const range = String(values['range'] ?? USUAL_CHECK.range.join())
    .split(',')
    .map(Number);
  const [low, high] = range;
  if (range.length !== 2 || !(low! >= 0 && low! < high! && high! <= 100))
    throw new UsageError('--range is two lightnesses, 0 to 100, as 15,90.');
  return {
    mips,
    limit: numberOption(values, 'limit', USUAL_CHECK.limit),
    densityFactor: numberOption(values, 'density', USUAL_CHECK.densityFactor),
    gameSize,
    range: [low!, high!],
  };
}
