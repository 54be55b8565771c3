import type { Picture } from '../../../core/formats';
import type { NamedFile } from '../../../core/delivery';
import { CoreError } from '../../../core/errors';
import type { EngineScene, Ground } from '../../engine-view';
import { deliverPool } from '../../shared/platform';

export const TURN_FORMATS = ['apng', 'webm', 'png'] as const;
export type TurnFormat = (typeof TURN_FORMATS)[number];

/** What a turntable shows, and how it leaves. */
export interface TurnHow {
  readonly format: TurnFormat;
  /** Pictures of one turn. */
  readonly frames: number;
  /** Height of a picture, pixels. */
  readonly side: number;
  /** Of one turn. */
  readonly seconds: number;
  readonly withReference: boolean;
  readonly withPalette: boolean;
}

/** What stands beside and behind the model. */
export interface Beside {
  readonly ground: Ground;
  readonly reference: ImageBitmap | null;
  readonly palette: readonly string[];
}

/** Height of the palette, in parts of a picture's. */
const STRIP = 0.06;

/** Bits a second of a film, a pixel of it: what is painted softly shows no blocks at that. */
const BITS_A_PIXEL = 12;

interface Progress {
  readonly signal: AbortSignal;
  readonly onProgress: (done: number) => void;
}

/**
 * One turn of the model as a file: every picture drawn from the texels anew.
 *
 * @param name of the file, without its ending
 * @throws CoreError `cancelled`, `encoder-failed` where the browser writes no film
 */
export async function makeTurntable(
  scene: EngineScene,
  name: string,
  how: TurnHow,
  beside: Beside,
  { signal, onProgress }: Progress,
): Promise<NamedFile> {
  const stage = await turnStage(how, beside);
  const frame = (i: number): OffscreenCanvas => {
    signal.throwIfAborted();
    stage.draw(scene.turned((i / how.frames) * 2 * Math.PI, how.side, how.side));
    return stage.canvas;
  };
  if (how.format === 'webm') return [`${name}.webm`, await film(frame, how, signal, onProgress)];
  const pictures: Picture[] = [];
  for (let i = 0; i < how.frames; i++) {
    pictures.push(pixelsOf(frame(i)));
    onProgress((i / how.frames) * 0.6);
    // The page stays alive between two pictures.
    await new Promise((next) => setTimeout(next));
  }
  if (how.format === 'apng') {
    const delay = (how.seconds * 1000) / how.frames;
    return [`${name}.png`, await deliverPool.run('apng', { frames: pictures, delay }, { signal })];
  }
  const files: NamedFile[] = [];
  for (const [i, picture] of pictures.entries()) {
    const number = String(i + 1).padStart(3, '0');
    files.push([`${name}-${number}.png`, await deliverPool.run('encodePng', { picture }, { signal })]);
    onProgress(0.6 + (0.4 * (i + 1)) / how.frames);
  }
  return [`${name}.zip`, await deliverPool.run('zip', { files }, { signal })];
}

/** Whether this browser can write films. */
export const canFilm = (): boolean => typeof VideoEncoder !== 'undefined';

async function film(
  frame: (i: number) => OffscreenCanvas,
  { frames, seconds }: TurnHow,
  signal: AbortSignal,
  onProgress: (done: number) => void,
): Promise<Uint8Array> {
  const { BufferTarget, CanvasSource, getFirstEncodableVideoCodec, Output, WebMOutputFormat } =
    await import('mediabunny');
  const first = frame(0);
  const { width, height } = first;
  const codec = await getFirstEncodableVideoCodec(['vp9', 'av1', 'vp8'], { width, height });
  if (!codec)
    throw new CoreError(
      'encoder-failed',
      'This browser writes no WebM. Choose an animated PNG, or single pictures.',
    );
  const bitrate = width * height * BITS_A_PIXEL;
  const source = new CanvasSource(first, { codec, bitrate });
  const target = new BufferTarget();
  const output = new Output({ format: new WebMOutputFormat(), target });
  output.addVideoTrack(source, { frameRate: frames / seconds });
  await output.start();
  try {
    for (let i = 0; i < frames; i++) {
      frame(i);
      await source.add((i * seconds) / frames, seconds / frames);
      onProgress(i / frames);
    }
    await output.finalize();
  } catch (error) {
    await output.cancel().catch(() => undefined);
    throw error;
  }
  signal.throwIfAborted();
  return new Uint8Array(target.buffer!);
}

/** A canvas that holds what doesn't turn, and takes one picture of the model after the other. */
async function turnStage({ side, withReference, withPalette }: TurnHow, beside: Beside) {
  const { reference, palette } = beside;
  const shown = withReference && reference ? reference : null;
  const across = shown ? Math.round((side * shown.width) / shown.height) : 0;
  const strip = withPalette && palette.length > 0 ? Math.round(side * STRIP) : 0;
  // Films have even sides.
  const canvas = new OffscreenCanvas(even(side + across), even(side + strip));
  const context = canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
  const ground = beside.ground.kind === 'picture' ? await pictureAt(beside.ground.url) : null;
  const model = new OffscreenCanvas(side, side);
  const onModel = model.getContext('2d')!;
  return {
    canvas,
    draw: (picture: Picture): void => {
      const { ground: behind } = beside;
      context.fillStyle = behind.kind === 'plain' ? greyOf(behind.grey) : '#808080';
      context.fillRect(0, 0, canvas.width, canvas.height);
      if (ground) drawOver(context, ground, side);
      onModel.putImageData(imageOf(picture), 0, 0);
      context.drawImage(model, 0, 0);
      if (shown) context.drawImage(shown, side, 0, across, side);
      palette.slice(0, strip > 0 ? palette.length : 0).forEach((color, i) => {
        const from = Math.round((i / palette.length) * canvas.width);
        const to = Math.round(((i + 1) / palette.length) * canvas.width);
        context.fillStyle = color;
        context.fillRect(from, side, to - from, canvas.height - side);
      });
    },
  };
}

const even = (n: number): number => n + (n % 2);

export function greyOf(grey: number): string {
  const level = Math.round(grey * 255);
  return `rgb(${level} ${level} ${level})`;
}

export const imageOf = ({ rgba, width, height }: Picture): ImageData =>
  new ImageData(new Uint8ClampedArray(rgba), width, height);

function pixelsOf(canvas: OffscreenCanvas): Picture {
  const { width, height } = canvas;
  const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
  return { width, height, rgba: new Uint8Array(data.buffer) };
}

const pictureAt = async (url: string): Promise<ImageBitmap> =>
  createImageBitmap(await (await fetch(url)).blob());

/** Fills a square with a picture, cut where it is too long. */
function drawOver(context: OffscreenCanvasRenderingContext2D, picture: ImageBitmap, side: number): void {
  const part = Math.min(picture.width, picture.height);
  const [x, y] = [(picture.width - part) / 2, (picture.height - part) / 2];
  context.drawImage(picture, x, y, part, part, 0, 0, side, side);
}
