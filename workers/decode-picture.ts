import { decodePng, pictureKind, type Picture } from '../core/formats';

/**
 * A picture file as straight-alpha RGBA. PNG is read exactly; other kinds by the browser, which is exact where they are opaque.
 *
 * @returns null if it can't be read: a model is worth having without its colours
 */
export async function decodePicture(file: Uint8Array): Promise<Picture | null> {
  try {
    if (pictureKind(file) === 'PNG') return decodePng(file);
    const bitmap = await createImageBitmap(new Blob([file as Uint8Array<ArrayBuffer>]), {
      premultiplyAlpha: 'none',
      colorSpaceConversion: 'none',
    });
    const { width, height } = bitmap;
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    context.drawImage(bitmap, 0, 0);
    bitmap.close();
    const { data } = context.getImageData(0, 0, width, height);
    return { width, height, rgba: new Uint8Array(data.buffer) };
  } catch {
    return null;
  }
}
