import { writeFile } from 'node:fs/promises';
import { encodePng, layoutPicture, layoutSvg } from '../core/formats';
import { requireUvs } from '../core/mesh';
import { readModelFile, readOptions, sizeOption, textOption, UsageError } from './options';

export async function runLayout(args: readonly string[], print: (text: string) => void): Promise<void> {
  const { model, values } = readOptions(args, { out: { type: 'string' } });
  const size = sizeOption(values);
  const out = textOption(values, 'out');
  const mesh = requireUvs(await readModelFile(model));
  const style = { size, lines: true, fill: true, colors: new Map<string, string>() };
  if (/\.svg$/i.test(out)) await writeFile(out, layoutSvg(mesh, style));
  else if (/\.png$/i.test(out)) await writeFile(out, encodePng(layoutPicture(mesh, style)));
  else throw new UsageError(`--out ${out} should end in .svg or .png.`);
  print(values['json'] ? `${JSON.stringify({ out, size })}\n` : `layout written to ${out}\n`);
}
