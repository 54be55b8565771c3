import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { z } from 'zod';
import { encodePng, writeGlb } from '../core/formats';
import { readAs } from '../core/read-as';
import { contentHash } from '../core/math';
import {
  putOnRamps,
  RAMP_SIZES,
  rampPicture,
  rampRunSchema,
  rampSheetSchema,
  type RampSize,
} from '../core/ramps';
import { textOption, UsageError, type Values, option, type CliCommand, OUT_FOLDER, PLAIN } from './options';
import { importModelFile } from './read-model-file';
import { makeFolder, writeOut } from './write-out';

const fileSchema = rampSheetSchema.extend({ parts: z.record(z.string(), rampRunSchema) });

/** Puts a model's parts on a small sheet of colour ramps. */
export const rampCommand: CliCommand = {
  name: 'ramp',
  takes: '<model>',
  does: 'Puts parts on a small sheet of colour ramps; writes ramps.png, model.glb and report.json.',
  options: [
    option('--ramps <file.json>', 'the ramps, and which part is on which'),
    OUT_FOLDER,
    option('--size <texels>', 'of the sheet (64)'),
    PLAIN,
  ],
  more: `
The file: {"ramps":[{"name","colors":["#rrggbb",...]}],"parts":{"NAME":{"ramp","direction":[x,y,z],"from","to"}}};
from and to say where along its ramp, 0..1, the part's lowest and highest place along the direction lie.`,
  async run([model], values, terminal) {
    const out = textOption(values, 'out');
    const size = rampSize(values);
    const { parts, ...sheet } = await readRamps(textOption(values, 'ramps'));
    const { mesh: read, file } = await importModelFile(model);
    const png = encodePng(rampPicture(sheet, size));
    const put = putOnRamps(read, sheet, size, new Map(Object.entries(parts)));
    const report = { parts: put.parts, texelHash: contentHash(rampPicture(sheet, size).rgba) };
    const text = `${JSON.stringify(report, null, 2)}\n`;
    const name = basename(model).replace(/\.[^.]+$/, '');
    const look = { name, albedos: [png], material: 'unlit' } as const;
    const kept = file && values['plain'] !== true ? { bytes: file, placing: null } : null;
    const glb = await writeGlb(put.mesh, look, kept);
    await makeFolder(out);
    await writeOut(
      new Map<string, Uint8Array | string>([
        [join(out, 'ramps.png'), png],
        [join(out, 'model.glb'), glb],
        [join(out, 'report.json'), text],
      ]),
    );
    terminal.out(`${JSON.stringify(report)}\n`);
  },
};

/** @throws UsageError */
function rampSize(values: Values): RampSize {
  const size = Number(values['size'] ?? 64);
  const found = RAMP_SIZES.find((s) => s === size);
  if (!found) {
    throw new UsageError(
      `--size ${String(values['size'])} can't be used; choose one of ${RAMP_SIZES.join(', ')}.`,
    );
  }
  return found;
}

/** @throws UsageError if the file isn't there, or isn't as it has to be */
async function readRamps(file: string): Promise<z.output<typeof fileSchema>> {
  let data: unknown;
  try {
    data = JSON.parse(await readFile(file, 'utf8'));
  } catch (cause) {
    throw new UsageError(
      cause instanceof SyntaxError
        ? `“${file}” is no JSON: ${cause.message}.`
        : `“${file}” can't be read. Name a file with the ramps and which parts are on them.`,
      { cause },
    );
  }
  return readAs(fileSchema, data, 'bad-argument', (where, says) => `“${file}”, at “${where}”: ${says}.`);
}
