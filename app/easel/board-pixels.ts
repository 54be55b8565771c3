import type { Rgb } from '../../core/color';
import { store } from '../shared/platform';
import { averageColor } from './average-color';

const known = new Map<string, Promise<ImageData>>();

/** So many pictures stay open to pick from. */
const MOST = 6;

/** The pixels of a picture, decoded once. */
export function picturePixels(project: string, id: number): Promise<ImageData> {
  const key = `${project} ${id}`;
  const open = known.get(key);
  if (open) return open;
  const decoded = (async () => {
    const row = await store.pictures.get([project, id]);
    const bitmap = await createImageBitmap(new Blob([row!.bytes as Uint8Array<ArrayBuffer>]), {
      colorSpaceConversion: 'none',
    });
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.drawImage(bitmap, 0, 0);
    bitmap.close();
    return context.getImageData(0, 0, canvas.width, canvas.height);
  })();
  decoded.catch(() => known.delete(key));
  known.set(key, decoded);
  const [oldest] = known.keys();
  if (known.size > MOST) known.delete(oldest!);
  return decoded;
}

/** The mean colour around a pixel of a picture; null where it is transparent. @param side pixels across, odd */
export async function pictureColor(
  project: string,
  id: number,
  { x, y }: { readonly x: number; readonly y: number },
  side: number,
): Promise<Rgb | null> {
  return averageColor(await picturePixels(project, id), x, y, side);
}
