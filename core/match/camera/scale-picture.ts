import type { Rows } from '../mask/ground-mask';

/** Pictures are compared with no more pixels a side than this: what a painter sees of the whole, and quickly told. */
export const COMPARED_SIDE = 800;

/** A picture mirrored if wanted, and with no more pixels a side than told, each the mean of those that it stands for. */
export function comparedPicture({ rgba, width, height }: Rows, mirror: boolean, side = COMPARED_SIDE): Rows {
  const k = Math.min(1, side / Math.max(width, height));
  const [w, h] = [Math.max(1, Math.round(width * k)), Math.max(1, Math.round(height * k))];
  const out = new Uint8Array(w * h * 4);
  const sum = [0, 0, 0, 0];
  for (let y = 0; y < h; y++) {
    const y0 = Math.floor((y * height) / h);
    const y1 = Math.max(y0 + 1, Math.floor(((y + 1) * height) / h));
    for (let x = 0; x < w; x++) {
      const x0 = Math.floor((x * width) / w);
      const x1 = Math.max(x0 + 1, Math.floor(((x + 1) * width) / w));
      sum.fill(0);
      for (let sy = y0; sy < y1; sy++) {
        for (let sx = x0; sx < x1; sx++) {
          const o = (sy * width + sx) * 4;
          const a = rgba[o + 3]!;
          for (let c = 0; c < 3; c++) sum[c]! += rgba[o + c]! * a;
          sum[3]! += a;
        }
      }
      const o = (y * w + (mirror ? w - 1 - x : x)) * 4;
      const a = sum[3]!;
      if (a > 0) for (let c = 0; c < 3; c++) out[o + c] = Math.round(sum[c]! / a);
      out[o + 3] = Math.round(a / ((x1 - x0) * (y1 - y0)));
    }
  }
  return { rgba: out, width: w, height: h };
}
