import type { DeepPicture, Picture } from '../formats';

/**
 * A square picture at another size: averaged over areas when it gets smaller, bilinear when it gets larger. Alpha weights
 * the colours, so that what is transparent doesn't tint what is not.
 */
export function resamplePicture<P extends Picture | DeepPicture>(picture: P, size: number): P {
  const from = picture.width;
  const out = alike(picture.rgba, size * size * 4);
  const scale = from / size;
  const taps = tapsOf(from, size, scale);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      let r = 0;
      let g = 0;
      let b = 0;
      let a = 0;
      let all = 0;
      for (const { at: sy, weight: wy } of taps[y]!) {
        for (const { at: sx, weight: wx } of taps[x]!) {
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
      const o = (y * size + x) * 4;
      out[o] = Math.round(r / a);
      out[o + 1] = Math.round(g / a);
      out[o + 2] = Math.round(b / a);
      out[o + 3] = Math.round(a / all);
    }
  }
  return { ...picture, width: size, height: size, rgba: out };
}

/** Room for so many values of the same kind. */
export const alike = <T extends Uint8Array | Uint16Array>(values: T, length: number): T =>
  (values instanceof Uint16Array ? new Uint16Array(length) : new Uint8Array(length)) as T;

function tapsOf(from: number, size: number, scale: number): { at: number; weight: number }[][] {
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
