import { encodePng, layoutPicture, layoutSvg } from '../core/formats';
import { requireUvs } from '../core/mesh';
import { writeOut } from './write-out';
import { sizeOption, textOption, UsageError, type CliCommand, option, SHEET_SIZE } from './options';
import { readModelFile } from './read-model-file';

export const layoutCommand: CliCommand = {
  name: 'layout',
  takes: '<model>',
  does: 'The UV layout as a drawing.',
  options: [option('--out <file>', 'an SVG or PNG file'), SHEET_SIZE],
  async run([model], values, { out: print }) {
    const size = sizeOption(values);
    const out = textOption(values, 'out');
    const mesh = requireUvs(await readModelFile(model));
    const style = { size, lines: true, fill: true, colors: new Map<string, string>() };
    const isSvg = /\.svg$/i.test(out);
    if (!isSvg && !/\.png$/i.test(out)) throw new UsageError(`--out ${out} should end in .svg or .png.`);
    const drawing = isSvg ? layoutSvg(mesh, style) : encodePng(layoutPicture(mesh, style));
    await writeOut(new Map([[out, drawing]]));
    print(values['json'] ? `${JSON.stringify({ out, size })}\n` : `layout written to ${out}\n`);
  },
};
