import { join } from 'node:path';
import { builtFolders, MANY_OPTIONS, runMany } from './many';
import type { JobWish } from '../jobs';
import { doLocalJob } from './local-job';
import { readOptions, textOption, UsageError, type Terminal } from './options';

const GIVEN = ['camera', 'points', 'mask'] as const;

/** Compares a painted model with a picture of it, or those of a folder with the reference.png that each has. @returns 0 if all went well */
export async function runMatch(args: readonly string[], terminal: Terminal): Promise<number> {
  const { model, values } = readOptions(args, {
    albedo: { type: 'string' },
    reference: { type: 'string' },
    camera: { type: 'string' },
    points: { type: 'string' },
    mask: { type: 'string' },
    out: { type: 'string' },
    ...MANY_OPTIONS,
  });
  const out = textOption(values, 'out');
  const folders = await builtFolders(model);
  if (folders) {
    const jobs = folders.map(({ folder, files }) => {
      const beside = (kind: string, ending: string): string | undefined =>
        files.includes(`${kind}${ending}`) ? join(folder, `${kind}${ending}`) : undefined;
      const reference =
        beside('reference', '.png') ??
        (values['reference'] === undefined ? undefined : textOption(values, 'reference'));
      if (!reference)
        throw new UsageError(`“${folder}” has no reference.png, and --reference names none for all.`);
      const given = {
        camera: beside('camera', '.json'),
        points: beside('points', '.json'),
        mask: beside('mask', '.png'),
      };
      const job: JobWish = {
        do: 'match',
        model: join(folder, 'model.glb'),
        albedo: join(folder, 'albedo.png'),
        reference,
        ...(Object.fromEntries(Object.entries(given).filter(([, file]) => file !== undefined)) as object),
      };
      const to = folders.length === 1 ? out : join(out, folder.split(/[\\/]/).at(-1)!);
      return { model: folder, folder: to, out: to, job };
    });
    return runMany(jobs, values, terminal, { summaryFile: join(out, 'match.json'), verb: 'compared' });
  }
  const given = Object.fromEntries(
    GIVEN.filter((name) => values[name] !== undefined).map((name) => [name, textOption(values, name)]),
  );
  const albedo = textOption(values, 'albedo');
  const reference = textOption(values, 'reference');
  const { report } = await doLocalJob({ job: { do: 'match', model, albedo, reference, ...given }, out });
  terminal.out(`${JSON.stringify(report)}\n`);
  return 0;
}
