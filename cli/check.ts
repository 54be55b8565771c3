import { join } from 'node:path';
import { USUAL_CHECK } from '../core/delivery';
import type { JobOf } from '../jobs';
import { doLocalJob } from './local-job';
import { builtFolders, MANY_OPTIONS, runMany } from './many';
import { numberOption, readOptions, UsageError, type Terminal, type Values } from './options';

/** Checks a model and its albedo, or a folder of what was built. @returns 0 if all may leave, 1 if not */
export async function runCheck(args: readonly string[], terminal: Terminal): Promise<number> {
  const { model, values } = readOptions(args, {
    albedo: { type: 'string', multiple: true },
    mips: { type: 'string' },
    limit: { type: 'string' },
    range: { type: 'string' },
    density: { type: 'string' },
    game: { type: 'string' },
    ...MANY_OPTIONS,
  });
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
}

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
