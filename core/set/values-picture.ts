import { linearToSrgb, srgbToLinear } from '../color';
import type { Picture } from '../formats';

/** Parts of the luminance (IEC 61966-2-1, ITU-R BT.709). */
const [R, G, B] = [0.2126, 0.7152, 0.0722] as const;

/** A picture in values only: each pixel the grey of the same luminance. */
export function inValues({ width, height, rgba }: Picture): Picture {
  const linear = Float64Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));
  const out = new Uint8Array(rgba.length);
  for (let i = 0; i < rgba.length; i += 4) {
    const y = R * linear[rgba[i]!]! + G * linear[rgba[i + 1]!]! + B * linear[rgba[i + 2]!]!;
    out.fill(Math.round(linearToSrgb(y) * 255), i, i + 3);
    out[i + 3] = rgba[i + 3]!;
  }
  return { width, height, rgba: out };
}
