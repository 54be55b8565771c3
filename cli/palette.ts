import { PALETTE_LEAST, PALETTE_MOST, paletteOf } from '../core/color';
import { decodePng } from '../core/formats';
import { numberOption, UsageError, type CliCommand, option } from './options';
import { readBytes } from './local-files';

export const paletteCommand: CliCommand = {
  name: 'palette',
  takes: '<picture.png>',
  does: 'The main colours of a picture and their shares, as {"colors":[{"hex","share"}]}.',
  options: [option('--colors <count>', 'how many (8)')],
  async run([file], values, { out: print }) {
    const count = numberOption(values, 'colors', 8);
    if (!Number.isInteger(count) || count < PALETTE_LEAST || count > PALETTE_MOST) {
      throw new UsageError(`--colors ${count} can't be used; choose ${PALETTE_LEAST} to ${PALETTE_MOST}.`);
    }
    const colors = paletteOf(decodePng(await readBytes(file)).rgba, count);
    if (colors.length === 0) throw new UsageError(`“${file}” is transparent all over: it has no colours.`);
    print(`${JSON.stringify({ colors })}\n`);
  },
};
