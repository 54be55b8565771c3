import type { DeepPicture, Picture } from './picture';

/**
 * A picture at another size: averaged over areas when it gets smaller, bilinear when it gets larger. Alpha weights the colours, so that
 * what is transparent doesn't tint what is not.
 */
export function resamplePicture<P extends Picture | DeepPicture>(
  picture: P,
  width: number,
  height = width,
): P {
  const from = picture.width;
  const out = alike(picture.rgba, width * height * 4);
  const across = tapsOf(from, width);
  const down = tapsOf(picture.height, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let r = 0;
      let g = 0;
      let b = 0;
      let a = 0;
      let all = 0;
      for (const { at: sy, weight: wy } of down[y]!) {
        for (const { at: sx, weight: wx } of across[x]!) {
          const o = (sy * from + sx) * 4;
          const w = wx * wy;
          const wa = w * picture.rgba[o + 3]!;
          r += picture.rgba[o]! * wa;
          g += picture.rgba[o + 1]! * wa;
          b += picture.rgba[o + 2]! * wa;
          a += wa;
          all += w;
        }
      }
      if (a === 0) continue;
      const o = (y * width + x) * 4;
      out[o] = Math.round(r / a);
      out[o + 1] = Math.round(g / a);
      out[o + 2] = Math.round(b / a);
      out[o + 3] = Math.round(a / all);
    }
  }
  return { ...picture, width, height, rgba: out };
}

/** A picture no larger than so many pixels a side: halved until it fits. */
export function noLarger(picture: Picture, side: number): Picture {
  let { width, height } = picture;
  while (Math.max(width, height) > side)
    [width, height] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  return width === picture.width && height === picture.height
    ? picture
    : resamplePicture(picture, width, height);
}

/** Room for so many values of the same kind. */
export const alike = <T extends Uint8Array | Uint16Array>(values: T, length: number): T =>
  (values instanceof Uint16Array ? new Uint16Array(length) : new Uint8Array(length)) as T;

/** Which of `from` texels in a row each of `size` is made of. */
function tapsOf(from: number, size: number): { at: number; weight: number }[][] {
  const scale = from / size;
  return Array.from({ length: size }, (_, i) => {
    const taps: { at: number; weight: number }[] = [];
    if (scale >= 1) {
      const start = i * scale;
      const end = (i + 1) * scale;
      for (let s = Math.floor(start); s < Math.min(from, Math.ceil(end)); s++) {
        const weight = Math.min(end, s + 1) - Math.max(start, s);
        if (weight > 0) taps.push({ at: s, weight });
      }
      return taps;
    }
    const centre = (i + 0.5) * scale - 0.5;
    const low = Math.floor(centre);
    const t = centre - low;
    const clampAt = (s: number): number => Math.min(from - 1, Math.max(0, s));
    return [
      { at: clampAt(low), weight: 1 - t },
      { at: clampAt(low + 1), weight: t },
    ].filter((tap) => tap.weight > 0);
  });
}
