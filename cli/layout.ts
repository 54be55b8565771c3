import { encodePng, layoutPicture, layoutSvg } from '../core/formats';
import { requireUvs } from '../core/mesh';
import { writeOut } from './write-out';
import { readOptions, sizeOption, textOption, UsageError } from './options';
import { readModelFile } from './read-model-file';

export async function runLayout(args: readonly string[], print: (text: string) => void): Promise<void> {
  const { model, values } = readOptions(args, { out: { type: 'string' } });
  const size = sizeOption(values);
  const out = textOption(values, 'out');
  const mesh = requireUvs(await readModelFile(model));
  const style = { size, lines: true, fill: true, colors: new Map<string, string>() };
  const isSvg = /\.svg$/i.test(out);
  if (!isSvg && !/\.png$/i.test(out)) throw new UsageError(`--out ${out} should end in .svg or .png.`);
  const drawing = isSvg ? layoutSvg(mesh, style) : encodePng(layoutPicture(mesh, style));
  await writeOut(new Map([[out, drawing]]));
  print(values['json'] ? `${JSON.stringify({ out, size })}\n` : `layout written to ${out}\n`);
}
