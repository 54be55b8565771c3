import { linearSrgbToOklab, srgbToLinear } from '../color';

/** Straight-alpha RGBA, rows from the top. */
interface PatternPixels {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8Array;
}

/** A picture and its halvings, each pixel the mean of those that it stands for. It repeats at all its sides. */
export interface Pyramid {
  /** Numbers a pixel. */
  readonly channels: 1 | 4;
  /** From the picture itself down to one pixel. */
  readonly levels: readonly PyramidLevel[];
  /** Mean of the picture. */
  readonly mean: readonly number[];
}

interface PyramidLevel {
  readonly width: number;
  readonly height: number;
  /** 0..1; colours premultiplied by alpha. Rows from the top. */
  readonly data: Float32Array;
}

/** Makes it once for each picture. */
function onceEach(make: (picture: PatternPixels) => Pyramid): (picture: PatternPixels) => Pyramid {
  const known = new WeakMap<PatternPixels, Pyramid>();
  return (picture) => {
    let pyramid = known.get(picture);
    if (!pyramid) known.set(picture, (pyramid = make(picture)));
    return pyramid;
  };
}

/** Lightness as the eye has it (OKLab L), times alpha: what a picture is worth as a mask. */
export const greyPyramid = onceEach(({ width, height, rgba }: PatternPixels): Pyramid => {
  const curve = Float64Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));
  const data = Float32Array.from({ length: width * height }, (_, i) => {
    const [r, g, b] = [rgba[i * 4]!, rgba[i * 4 + 1]!, rgba[i * 4 + 2]!];
    return linearSrgbToOklab(curve[r]!, curve[g]!, curve[b]!).L * (rgba[i * 4 + 3]! / 255);
  });
  return pyramidOf({ width, height, data }, 1);
});

/** Colours as they are, sRGB-encoded, premultiplied. */
export const colorPyramid = onceEach(({ width, height, rgba }: PatternPixels): Pyramid => {
  const data = Float32Array.from(rgba, (v, i) =>
    i % 4 === 3 ? v / 255 : (v / 255) * (rgba[i - (i % 4) + 3]! / 255),
  );
  return pyramidOf({ width, height, data }, 4);
});

/** A picture more than so many times too large is brought down by whole pixels first: as floats all of it would take gigabytes. */
const FAR_TOO_LARGE = 2;

/** A picture no larger than so many pixels a side: its first halving that is small enough. */
export function noLarger(picture: PatternPixels, side: number): PatternPixels {
  const by = Math.floor(Math.max(picture.width, picture.height) / (side * FAR_TOO_LARGE));
  const { width, height, rgba } = by > 1 ? broughtDown(picture, by) : picture;
  if (Math.max(width, height) <= side) return { width, height, rgba };
  const { levels } = colorPyramid({ width, height, rgba });
  const small = levels.find((l) => Math.max(l.width, l.height) <= side)!;
  const out = Uint8Array.from(small.data, (v, i) => {
    const a = small.data[i - (i % 4) + 3]!;
    return Math.round((i % 4 === 3 ? v : a > 0 ? v / a : 0) * 255);
  });
  return { width: small.width, height: small.height, rgba: out };
}

/** Each pixel the mean of so many by so many, colours weighted by alpha; what is left over at the right and below goes. */
function broughtDown({ width, height, rgba }: PatternPixels, by: number): PatternPixels {
  const [w, h] = [Math.max(1, Math.floor(width / by)), Math.max(1, Math.floor(height / by))];
  const [across, down] = [Math.min(by, width), Math.min(by, height)];
  const out = new Uint8Array(w * h * 4);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let j = 0; j < down; j++) {
        for (let i = 0; i < across; i++) {
          const o = ((y * by + j) * width + x * by + i) * 4;
          const alpha = rgba[o + 3]!;
          r += rgba[o]! * alpha;
          g += rgba[o + 1]! * alpha;
          b += rgba[o + 2]! * alpha;
          a += alpha;
        }
      }
      const o = (y * w + x) * 4;
      if (a > 0) out.set([Math.round(r / a), Math.round(g / a), Math.round(b / a)], o);
      out[o + 3] = Math.round(a / (across * down));
    }
  }
  return { width: w, height: h, rgba: out };
}

function pyramidOf(first: PyramidLevel, channels: 1 | 4): Pyramid {
  const levels = [first];
  for (;;) {
    const last = levels.at(-1)!;
    if (last.width === 1 && last.height === 1) break;
    levels.push(halved(last, channels));
  }
  const mean = [...levels.at(-1)!.data];
  return { channels, levels, mean };
}

/** Half as large each way; an odd side's last pixel is shared out. */
function halved({ width, height, data }: PyramidLevel, channels: number): PyramidLevel {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const out = new Float32Array(w * h * channels);
  const spanX = width / w;
  const spanY = height / h;
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      for (const [row, wy] of shares(y, spanY, height)) {
        for (const [column, wx] of shares(x, spanX, width)) {
          const k = (wx * wy) / (spanX * spanY);
          for (let c = 0; c < channels; c++)
            out[(y * w + x) * channels + c]! += data[(row * width + column) * channels + c]! * k;
        }
      }
    }
  }
  return { width: w, height: h, data: out };
}

/** Pixels that one of the next level stands for, and how much of each. */
function shares(index: number, span: number, most: number): [pixel: number, share: number][] {
  const [low, high] = [index * span, (index + 1) * span];
  const out: [number, number][] = [];
  for (let p = Math.floor(low); p < Math.min(most, Math.ceil(high - 1e-9)); p++)
    out.push([p, Math.min(high, p + 1) - Math.max(low, p)]);
  return out;
}

/**
 * What a pyramid has at a place, smoothly between pixels and between levels.
 *
 * @param u, v in tiles, to the right and up; they go on for ever
 * @param level 0 the picture itself, 1 its first halving, and so on; may lie between
 * @param out its channels are added to, times `weight`
 */
export function samplePyramid(
  { levels, channels }: Pyramid,
  u: number,
  v: number,
  level: number,
  weight: number,
  out: Float64Array,
): void {
  const l = Math.min(levels.length - 1, Math.max(0, level));
  const low = Math.floor(l);
  const part = l - low;
  sampleLevel(levels[low]!, channels, u, v, weight * (1 - part), out);
  if (part > 0) sampleLevel(levels[low + 1]!, channels, u, v, weight * part, out);
}

function sampleLevel(
  { width, height, data }: PyramidLevel,
  channels: number,
  u: number,
  v: number,
  weight: number,
  out: Float64Array,
): void {
  const x = (u - Math.floor(u)) * width - 0.5;
  const y = (1 - (v - Math.floor(v))) * height - 0.5;
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  for (let k = 0; k < 4; k++) {
    const w = (k & 1 ? fx : 1 - fx) * (k & 2 ? fy : 1 - fy) * weight;
    if (w === 0) continue;
    const px = (x0 + (k & 1) + width) % width;
    const py = (y0 + (k >> 1) + height) % height;
    const at = (py * width + px) * channels;
    for (let c = 0; c < channels; c++) out[c]! += data[at + c]! * w;
  }
}
