import { basename, join } from 'node:path';
import { makeAtlas, type AtlasMember } from '../core/atlas';
import { engineAtSize, flattenAlbedo } from '../core/engine';
import { readProjectFile } from '../core/project-file';
import { decodePng, encodePng, writeUnlitGlb, type Picture } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { requireUvs } from '../core/mesh';
import type { Arrange } from '../core/unwrap';
import { builtFolders } from './many';
import {
  numberOption,
  sizeOption,
  textOption,
  UsageError,
  type Values,
  option,
  type CliCommand,
  manyOption,
  choiceOption,
  OUT_FOLDER,
} from './options';
import { readBytes } from './local-files';
import { readModelFile } from './read-model-file';
import { makeFolder, writeOut } from './write-out';

/** Packs several painted models onto one sheet: project files, and folders that build or deliver wrote. */
export const atlasCommand: CliCommand = {
  name: 'atlas',
  takes: '<projects...>',
  does: 'Packs painted models onto one sheet, with the same texels a unit, times their weight.',
  options: [
    OUT_FOLDER,
    option('--size <texels>', 'of the sheet (2048)'),
    option('--margin <texels>', 'between islands (12)'),
    manyOption('--weight <name=factor>', 'more texels for one, as Kettle=2'),
    choiceOption('arrange', 'how islands stand', ['tightest', 'upright']),
    option('--name <name>', 'of the model that is written (Atlas)'),
  ],
  more: `
Project files, and folders that build or deliver wrote. Writes albedo.png, model.glb and report.json.`,
  async run(models, values, terminal) {
    const out = textOption(values, 'out');
    const size = values['size'] === undefined ? 2048 : sizeOption(values);
    const margin = numberOption(values, 'margin', 12);
    if (!(margin >= 0 && margin <= 128)) throw new UsageError('--margin is 0 to 128 texels.');
    const arrange = values['arrange'] as Arrange;
    const name = values['name'] === undefined ? 'Atlas' : textOption(values, 'name');
    const weights = weightsOption(values);
    const members: AtlasMember[] = [];
    for (const path of models) members.push(...(await membersOf(path)));
    const unknown = [...weights.keys()].find((wanted) => !members.some((m) => m.name === wanted));
    if (unknown !== undefined) {
      throw new UsageError(
        `--weight ${unknown}: none is called so. They are ${members.map((m) => m.name).join(', ')}.`,
      );
    }
    const weighed = members.map((m) => ({ ...m, weight: weights.get(m.name) ?? 1 }));
    const atlas = makeAtlas(weighed, { size, margin, arrange });
    const png = encodePng(atlas.picture);
    const report = { size, margin, members: atlas.members };
    await makeFolder(out);
    await writeOut(
      new Map<string, Uint8Array | string>([
        [join(out, 'albedo.png'), png],
        [join(out, 'model.glb'), await writeUnlitGlb(atlas.mesh, name, [png])],
        [join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`],
      ]),
    );
    terminal.out(`${JSON.stringify(report)}\n`);
  },
};

async function membersOf(path: string): Promise<AtlasMember[]> {
  const folders = await builtFolders(path);
  if (!folders) return [await projectMember(await readBytes(path))];
  const out: AtlasMember[] = [];
  for (const { folder, files } of folders) {
    const mesh = requireUvs(await readModelFile(join(folder, 'model.glb')));
    const pictures: Picture[] = [];
    for (const file of files.filter((f) => /^albedo(-\d+)?\.png$/.test(f)))
      pictures.push(decodePng(await readBytes(join(folder, file))));
    if (pictures.length === 0)
      throw new UsageError(`In “${folder}” there is no albedo.png beside the model.`);
    out.push({ name: basename(folder), mesh, pictures, weight: 1 });
  }
  return out;
}

async function projectMember(bytes: Uint8Array): Promise<AtlasMember> {
  const data = readProjectFile(bytes);
  const engine = await engineAtSize(data, null, createWasmKernels());
  const pictures = engine.surface.sheets.map((sheet, k) =>
    flattenAlbedo(engine, { size: sheet.size, bleed: Infinity }, k),
  );
  return { name: engine.document.name, mesh: data.mesh, pictures, weight: 1 };
}

function weightsOption(values: Values): Map<string, number> {
  const given = values['weight'];
  return new Map(
    (Array.isArray(given) ? given : []).map((text) => {
      const at = text.lastIndexOf('=');
      const weight = Number(text.slice(at + 1));
      if (at < 1 || !(weight > 0 && weight <= 16))
        throw new UsageError(`--weight ${text} is not a name and a number up to 16, such as Kettle=2.`);
      return [text.slice(0, at), weight] as const;
    }),
  );
}
