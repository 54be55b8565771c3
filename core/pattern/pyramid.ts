import { linearSrgbToOklab, srgbToLinear } from '../color';
import { forTaps, repeated, type Picture } from '../picture';

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
function onceEach(make: (picture: Picture) => Pyramid): (picture: Picture) => Pyramid {
  const known = new WeakMap<Picture, Pyramid>();
  return (picture) => {
    let pyramid = known.get(picture);
    if (!pyramid) known.set(picture, (pyramid = make(picture)));
    return pyramid;
  };
}

/** Lightness as the eye has it (OKLab L), times alpha: what a picture is worth as a mask. */
export const greyPyramid = onceEach(({ width, height, rgba }: Picture): Pyramid => {
  const curve = Float64Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));
  const data = Float32Array.from({ length: width * height }, (_, i) => {
    const [r, g, b] = [rgba[i * 4]!, rgba[i * 4 + 1]!, rgba[i * 4 + 2]!];
    return linearSrgbToOklab(curve[r]!, curve[g]!, curve[b]!).L * (rgba[i * 4 + 3]! / 255);
  });
  return pyramidOf({ width, height, data }, 1);
});

/** Colours as they are, sRGB-encoded, premultiplied. */
export const colorPyramid = onceEach(({ width, height, rgba }: Picture): Pyramid => {
  const data = Float32Array.from(rgba, (v, i) =>
    i % 4 === 3 ? v / 255 : (v / 255) * (rgba[i - (i % 4) + 3]! / 255),
  );
  return pyramidOf({ width, height, data }, 4);
});

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
  forTaps((u - Math.floor(u)) * width, (1 - (v - Math.floor(v))) * height, (tx, ty, w) => {
    const at = (repeated(ty, height) * width + repeated(tx, width)) * channels;
    for (let c = 0; c < channels; c++) out[c]! += data[at + c]! * (w * weight);
  });
}
