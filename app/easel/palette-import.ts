import { ciede2000, hexToRgb, PALETTE_MOST, rgbToCielab } from '../../core/color';
import type { Swatch } from '../../core/document';
import { sentenceOf } from '../../core/errors';
import { readPaletteTokens, type NamedColor } from '../../core/formats';
import { type Commander, type Session, useProject } from '../project';
import { bytesOf, chooseFiles } from '../shared/files';
import { notify, undoable } from '../shared/notify';
import { quickPool } from '../shared/platform';

/** Adds the colours of files to the palette: design tokens, a strip, or any picture's main colours. */
export async function addPaletteFiles(session: Session): Promise<void> {
  const files = await chooseFiles('.json,application/json,image/png,image/jpeg,image/webp', true);
  await session.deed('Add to the palette', async (as) => {
    for (const file of files) await addPaletteFile(session, as, file);
  });
}

async function addPaletteFile(session: Session, as: Commander, file: File): Promise<void> {
  try {
    const bytes = await bytesOf(file);
    const isTokens = /\.json$/i.test(file.name) || file.type === 'application/json';
    const colors = isTokens ? readPaletteTokens(new TextDecoder().decode(bytes)) : await colorsOf(file);
    const group = file.name.replace(/\.[^.]+$/, '').slice(0, 60);
    const swatches = colors.map(({ name, color }) => ({ name, color, group }));
    const done = await as.command({ do: 'add-swatches', swatches });
    const count = `${colors.length} ${colors.length === 1 ? 'colour' : 'colours'}`;
    if (done) undoable(session, `${count} of “${group}” stand in the palette.`)(done);
  } catch (error) {
    notify(`${file.name}: ${sentenceOf(error)}`);
  }
}

/** A picture of few colours, such as a strip, gives just those. */
async function colorsOf(file: File): Promise<NamedColor[]> {
  const bitmap = await createImageBitmap(file, {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  }).catch(() => null);
  if (!bitmap)
    throw new Error('That is not a picture that can be read. Use PNG, JPEG, WebP or design tokens.');
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
  const found = await quickPool.run('paletteOf', { rgba: new Uint8Array(data.buffer), count: PALETTE_MOST });
  if (found.length === 0) throw new Error('The picture is transparent all over: it has no colours.');
  return found.map(({ hex }) => ({ name: '', color: hex }));
}

/** Colours nearer than this look the same side by side; common practice: about 2 are hardly told apart. */
const ALIKE = 2.3;

/** Of swatches that look alike only the first stays. */
export async function mergeAlike(session: Session): Promise<void> {
  const palette = useProject.getState().document?.palette ?? [];
  const swatches = alikeSwatches(palette).map((s) => s.id);
  if (swatches.length === 0) {
    notify('No two colours of the palette look alike.');
    return;
  }
  const done = await session.command({ do: 'remove-swatches', swatches });
  if (done)
    undoable(
      session,
      `${swatches.length} ${swatches.length === 1 ? 'colour' : 'colours'} merged into others.`,
    )(done);
}

/** Those that look like one before them. */
export function alikeSwatches(palette: readonly Swatch[]): Swatch[] {
  const kept: ReturnType<typeof rgbToCielab>[] = [];
  return palette.filter(({ color }) => {
    const lab = rgbToCielab(hexToRgb(color));
    if (kept.some((other) => ciede2000(other, lab).deltaE < ALIKE)) return true;
    kept.push(lab);
    return false;
  });
}
