import { join } from 'node:path';
import { builtFolders, MANY_OPTIONS, runMany } from './many';
import type { JobWish } from '../jobs';
import { doLocalJob } from './local-job';
import { textOption, UsageError, option, type CliCommand, OUT_FOLDER } from './options';

const GIVEN = ['camera', 'points', 'mask'] as const;

/** Compares a painted model with a picture of it, or those of a folder with the reference.png that each has. @returns 0 if all went well */
export const matchCommand: CliCommand = {
  name: 'match',
  takes: '<model>',
  does: 'How far a painted model is from a picture of it, and what would help most.',
  options: [
    option('--albedo <a.png>', 'its picture'),
    option('--reference <r.png>', 'the picture it is to be like'),
    option('--camera <c.json>', 'from where that is drawn'),
    option('--points <p.json>', 'or places that belong together'),
    option('--mask <m.png>', 'what of it is the model'),
    OUT_FOLDER,
    ...MANY_OPTIONS,
  ],
  more: `
Silhouette, colours by part, palettes, values, light and edges. Without a camera or points the camera is found from the
silhouettes; without a mask, by the picture's plain ground. Writes report.json, side-by-side.png and heat.png.
  c.json  {"position","target","up","fovY" (degrees),"shift","width","height"}
  p.json  [{"model":[x,y,z],"picture":[x,y]}], pixels from the upper left corner`,
  async run([model], values, terminal) {
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
  },
};
