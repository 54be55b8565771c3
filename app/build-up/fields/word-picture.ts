import { sentenceOf } from '../../../core/errors';
import { notify } from '../../shared/notify';

/** Height of the letters in the picture, pixels; a long line is made smaller to fit. */
const TALL = 160;
const WIDEST = 1000;

/** Letters that a font lacks are drawn in another one: which that is can be told by their width. */
function lacksLetters(draw: CanvasRenderingContext2D, font: string, text: string): boolean {
  const [one, other] = ['monospace', 'serif'].map((instead) => {
    draw.font = `700 ${TALL}px ${font}, ${instead}`;
    return draw.measureText(text).width;
  });
  return one !== other;
}

/**
 * Words as a picture, in the font of the titles.
 *
 * @returns a PNG; null if nothing could be drawn, which is told
 */
export async function pictureOfWords(text: string, color: string): Promise<Uint8Array | null> {
  const words = text.trim();
  if (!words) {
    notify('Write some words first.');
    return null;
  }
  try {
    const font = getComputedStyle(document.documentElement).getPropertyValue('--title').split(',')[0]!.trim();
    await document.fonts.load(`700 ${TALL}px ${font}`, words);
    const canvas = document.createElement('canvas');
    const draw = canvas.getContext('2d')!;
    if (lacksLetters(draw, font, words)) {
      notify(`The font lacks letters of “${words}”. They are drawn in another one.`);
    }
    draw.font = `700 ${TALL}px ${font}, sans-serif`;
    const measured = draw.measureText(words);
    const size = Math.min(TALL, (TALL * WIDEST) / Math.max(1, measured.width));
    const k = size / TALL;
    const pad = 6;
    canvas.width = Math.ceil(measured.width * k) + 2 * pad;
    canvas.height =
      Math.ceil((measured.actualBoundingBoxAscent + measured.actualBoundingBoxDescent) * k) + 2 * pad;
    draw.font = `700 ${size}px ${font}, sans-serif`;
    draw.fillStyle = color;
    draw.fillText(words, pad, pad + measured.actualBoundingBoxAscent * k);
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
    return blob && new Uint8Array(await blob.arrayBuffer());
  } catch (error) {
    notify(sentenceOf(error));
    return null;
  }
}
