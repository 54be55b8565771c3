import type { ProjectDocument } from '../../../core/document';
import type { Picture } from '../../../core/formats';
import type { UvMesh } from '../../../core/mesh';
import { EngineScene, type EngineLook } from '../../engine-view';
import { deliverPool } from '../../shared/platform';
import { greyOf, imageOf } from './turntable';

/** Side of a picture on the sheet, its margin, and the room of its name, pixels. */
const SIDE = 420;
const MARGIN = 24;
const NAME = 30;
const TITLE = 84;
const COLUMNS = 4;

const PAPER = greyOf(0.95);
const BEHIND = greyOf(0.5);
const INK = '#26242a';

/** Texels a side of the sheet in flat colours. */
const FLAT = 1024;

const VIEWS: readonly (readonly [name: string, look: EngineLook, degrees: number])[] = [
  ['Front', 'unlit', 0],
  ['Three quarters', 'unlit', 40],
  ['Side', 'unlit', 90],
  ['Back', 'unlit', 180],
  ['Values', 'values', 40],
  ['Wireframe', 'wire', 40],
];

interface Shown {
  readonly name: string;
  readonly picture: Picture;
}

/**
 * One picture of the model as a portfolio has it: from four sides, in values, as a wireframe, in flat colours, its layout and its palette.
 *
 * @param glb as it leaves
 * @throws CoreError `cancelled` and what the delivery worker throws
 */
export async function makePortfolio(
  glb: Uint8Array,
  document: ProjectDocument,
  mesh: UvMesh,
  { signal, onProgress }: { readonly signal: AbortSignal; readonly onProgress: (done: number) => void },
): Promise<Uint8Array> {
  const canvas = globalThis.document.createElement('canvas');
  const scene = new EngineScene(canvas, () => undefined);
  const shown: Shown[] = [];
  try {
    await scene.show([glb], 'unlit');
    for (const [name, look, degrees] of VIEWS) {
      signal.throwIfAborted();
      scene.dress(look);
      shown.push({ name, picture: scene.turned((degrees * Math.PI) / 180, SIDE, SIDE) });
      onProgress((shown.length / (VIEWS.length + 2)) * 0.8);
      await new Promise((next) => setTimeout(next));
    }
    const flat = await flatModel(document, mesh, signal);
    await scene.show([flat], 'unlit');
    shown.push({ name: 'Flat colours', picture: scene.turned((40 * Math.PI) / 180, SIDE, SIDE) });
  } finally {
    scene.dispose();
  }
  const layout = await createImageBitmap(
    new Blob([(await deliverPool.run('layout', { mesh, size: FLAT, sheet: 0 }, { signal })) as BlobPart]),
  );
  return drawn(document, shown, layout);
}

/** The model with its local colours alone. */
async function flatModel(
  { name, layers, regions, sheets }: ProjectDocument,
  mesh: UvMesh,
  signal: AbortSignal,
): Promise<Uint8Array> {
  const textures: Uint8Array[] = [];
  for (const sheet of sheets.keys()) {
    const params = { document: { layers, regions }, mesh, size: FLAT, sheet };
    const picture = await deliverPool.run('flatColors', params, { signal });
    textures.push(await deliverPool.run('encodePng', { picture }, { signal }));
  }
  return deliverPool.run('glb', { mesh, name, textures }, { signal });
}

async function drawn(
  { name, palette }: ProjectDocument,
  shown: readonly Shown[],
  layout: ImageBitmap,
): Promise<Uint8Array> {
  const rows = Math.ceil((shown.length + 1) / COLUMNS);
  const strip = palette.length > 0 ? 56 : 0;
  const width = COLUMNS * (SIDE + MARGIN) + MARGIN;
  const height = TITLE + rows * (SIDE + NAME + MARGIN) + (strip > 0 ? strip + MARGIN : 0);
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { alpha: false })!;
  context.fillStyle = PAPER;
  context.fillRect(0, 0, width, height);
  context.fillStyle = INK;
  context.font = "600 40px 'Piazzolla Variable', serif";
  context.fillText(name, MARGIN, 58, width - 2 * MARGIN);
  const place = (i: number): readonly [number, number] => [
    MARGIN + (i % COLUMNS) * (SIDE + MARGIN),
    TITLE + Math.floor(i / COLUMNS) * (SIDE + NAME + MARGIN),
  ];
  const put = (i: number, title: string, picture: CanvasImageSource): void => {
    const [x, y] = place(i);
    context.fillStyle = BEHIND;
    context.fillRect(x, y, SIDE, SIDE);
    context.drawImage(picture, x, y, SIDE, SIDE);
    context.fillStyle = INK;
    context.font = "18px 'Archivo Variable', sans-serif";
    context.fillText(title, x, y + SIDE + 22);
  };
  for (const [i, { name: title, picture }] of shown.entries())
    put(i, title, await createImageBitmap(imageOf(picture)));
  put(shown.length, 'Layout', layout);
  palette.forEach(({ color }, i) => {
    const whole = width - 2 * MARGIN;
    const from = Math.round((i / palette.length) * whole);
    const to = Math.round(((i + 1) / palette.length) * whole);
    context.fillStyle = color;
    context.fillRect(MARGIN + from, height - strip - MARGIN, to - from, strip);
  });
  return new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
}
