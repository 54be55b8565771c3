import type { LookPictures } from '../../../workers';
import { pictureInPane, type PicturePlace } from '../../viewport';
import type { MatchUi } from '../match-ui';

/** The worker's pictures, ready to be drawn. */
export interface LookBitmaps {
  readonly width: number;
  readonly height: number;
  readonly reference: OffscreenCanvas;
  readonly painted: OffscreenCanvas;
  readonly outlines: OffscreenCanvas;
}

/** Outlines of the reference's figure, of the model, and of both where they lie on one another. */
const OUTLINES = [null, [255, 214, 90], [30, 26, 40], [255, 255, 255]] as const;

const canvasOf = (rgba: Uint8Array, width: number, height: number): OffscreenCanvas => {
  const canvas = new OffscreenCanvas(width, height);
  const image = new ImageData(new Uint8ClampedArray(rgba), width, height);
  canvas.getContext('2d')!.putImageData(image, 0, 0);
  return canvas;
};

export function bitmapsOf({ width, height, reference, painted, outlines }: LookPictures): LookBitmaps {
  const lines = new Uint8Array(width * height * 4);
  outlines.forEach((kind, i) => {
    const color = OUTLINES[kind];
    if (color) lines.set([...color, 255], i * 4);
  });
  return {
    width,
    height,
    reference: canvasOf(reference, width, height),
    painted: canvasOf(painted, width, height),
    outlines: canvasOf(lines, width, height),
  };
}

export const heatBitmap = (rgba: Uint8Array, width: number, height: number): OffscreenCanvas =>
  canvasOf(rgba, width, height);

interface Pane {
  readonly width: number;
  readonly height: number;
}

/** Where a picture lies that is looked at: at game size in the middle, else as large as the pane lets it be. */
export function placeOfLook(pane: Pane, picture: Pane, ui: Pick<MatchUi, 'gameSize' | 'zoom'>): PicturePlace {
  if (ui.gameSize === null) return pictureInPane(pane, picture, ui.zoom);
  const scale = ui.gameSize / picture.height;
  return {
    x: Math.round((pane.width - picture.width * scale) / 2),
    y: Math.round((pane.height - ui.gameSize) / 2),
    scale,
  };
}

/**
 * Draws both pictures as they are arranged.
 *
 * @param isPainted for flicker: whose turn it is
 */
export function drawLooks(
  context: CanvasRenderingContext2D,
  pane: Pane,
  pictures: LookBitmaps,
  ui: MatchUi,
  isPainted: boolean,
): void {
  const half = { width: pane.width / 2, height: pane.height };
  const put = (picture: OffscreenCanvas, place: PicturePlace): void => {
    context.save();
    const [w, h] = [pictures.width * place.scale, pictures.height * place.scale];
    context.translate(place.x + (ui.mirrored ? w : 0), place.y + (ui.upsideDown ? h : 0));
    context.scale(ui.mirrored ? -1 : 1, ui.upsideDown ? -1 : 1);
    context.imageSmoothingEnabled = place.scale < 3;
    context.imageSmoothingQuality = 'high';
    context.drawImage(picture, 0, 0, w, h);
    context.restore();
  };
  const withLines = (place: PicturePlace): void => {
    if (ui.outlines) put(pictures.outlines, place);
  };
  const place = placeOfLook(pane, pictures, ui);
  const { reference, painted } = pictures;
  switch (ui.arranged) {
    case 'beside': {
      const own = placeOfLook(half, pictures, ui);
      for (const [picture, x] of [
        [painted, 0],
        [reference, pane.width / 2],
      ] as const) {
        context.save();
        context.beginPath();
        context.rect(x, 0, half.width, half.height);
        context.clip();
        put(picture, { ...own, x: own.x + x });
        withLines({ ...own, x: own.x + x });
        context.restore();
      }
      return;
    }
    case 'over':
      put(reference, place);
      context.globalAlpha = ui.opacity;
      put(painted, place);
      context.globalAlpha = 1;
      return withLines(place);
    case 'wipe': {
      put(reference, place);
      context.save();
      clipBeside(context, pane, wipePoint(place, pictures, ui), ui.wipe.angle);
      // What of the painting shows nothing is ground there too, so that both can be told apart.
      context.fillStyle = getComputedStyle(context.canvas).getPropertyValue('--neutral') || '#808080';
      context.fillRect(place.x, place.y, pictures.width * place.scale, pictures.height * place.scale);
      put(painted, place);
      context.restore();
      return withLines(place);
    }
    case 'difference':
      put(differenceOf(pictures), place);
      return withLines(place);
    case 'flicker':
      put(isPainted ? painted : reference, place);
      return withLines(place);
  }
}

/** What one has and the other hasn't, channel by channel, where the model is. */
function differenceOf({ width, height, reference, painted }: LookBitmaps): OffscreenCanvas {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  context.drawImage(reference, 0, 0);
  context.globalCompositeOperation = 'difference';
  context.drawImage(painted, 0, 0);
  context.globalCompositeOperation = 'destination-in';
  context.drawImage(painted, 0, 0);
  return canvas;
}

/** Where the wipe's line goes through, pixels of the pane. */
export const wipePoint = (place: PicturePlace, picture: Pane, { wipe }: Pick<MatchUi, 'wipe'>) => ({
  x: place.x + wipe.x * picture.width * place.scale,
  y: place.y + wipe.y * picture.height * place.scale,
});

/** Leaves what lies left of a line. @param angle of the line, from upright, radians */
function clipBeside(
  context: CanvasRenderingContext2D,
  pane: Pane,
  at: { readonly x: number; readonly y: number },
  angle: number,
): void {
  const far = pane.width + pane.height;
  const [dx, dy] = [Math.sin(angle) * far, -Math.cos(angle) * far];
  // A quarter turn against the clock from upward is to the left.
  const [lx, ly] = [-Math.cos(angle) * far * 2, -Math.sin(angle) * far * 2];
  context.beginPath();
  context.moveTo(at.x + dx, at.y + dy);
  context.lineTo(at.x - dx, at.y - dy);
  context.lineTo(at.x - dx + lx, at.y - dy + ly);
  context.lineTo(at.x + dx + lx, at.y + dy + ly);
  context.closePath();
  context.clip();
}
