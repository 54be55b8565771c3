import { ciede2000, srgbToLinear, type Cielab } from '../../color';
import { blurred } from './blur';

/** CIELAB of pixels, three numbers each: L, a, b; not a number where nothing is shown. */
export type LabRows = Float32Array;

const LINEAR = /* @__PURE__ */ Float64Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));

const EPSILON = (6 / 29) ** 3;
const curve = (t: number): number => (t > EPSILON ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29);
const [WHITE_X, WHITE_Z] = [0.3127 / 0.329, (1 - 0.3127 - 0.329) / 0.329];

/** Pixels in CIELAB under D65, as `rgbToCielab` has them. @param rgba what is transparent shows nothing */
export function labRows(rgba: Uint8Array | Uint8ClampedArray, mask?: Uint8Array): LabRows {
  const out = new Float32Array((rgba.length / 4) * 3);
  for (let i = 0, o = 0; i < rgba.length; i += 4, o += 3) {
    if (rgba[i + 3] === 0 || (mask && !mask[i >> 2])) {
      out[o] = out[o + 1] = out[o + 2] = NaN;
      continue;
    }
    const [r, g, b] = [LINEAR[rgba[i]!]!, LINEAR[rgba[i + 1]!]!, LINEAR[rgba[i + 2]!]!];
    const x = curve((0.4123907993 * r + 0.3575843394 * g + 0.1804807884 * b) / WHITE_X);
    const y = curve(0.2126390059 * r + 0.7151686788 * g + 0.0721923154 * b);
    const z = curve((0.0193308187 * r + 0.1191947798 * g + 0.9505321522 * b) / WHITE_Z);
    out[o] = 116 * y - 16;
    out[o + 1] = 500 * (x - y);
    out[o + 2] = 200 * (y - z);
  }
  return out;
}

export const labAt = (rows: LabRows, i: number): Cielab => ({
  L: rows[i * 3]!,
  a: rows[i * 3 + 1]!,
  b: rows[i * 3 + 2]!,
});

/** What of a difference is told: all of it, or how much lighter, more vivid or further round the paint is. */
export const DIFFERENCES = ['all', 'lightness', 'chroma', 'hue'] as const;
export type Difference = (typeof DIFFERENCES)[number];

/**
 * CIEDE2000 a pixel, or a part of it with its sign; not a number where either shows nothing.
 *
 * @param aligned for each pixel the one of the reference that it is compared with
 */
export function differenceField(
  reference: LabRows,
  painted: LabRows,
  aligned: Int32Array | null,
  of: Difference = 'all',
): Float32Array {
  const out = new Float32Array(painted.length / 3).fill(NaN);
  for (let i = 0; i < out.length; i++) out[i] = differenceAt(reference, painted, aligned?.[i] ?? i, i, of);
  return out;
}

/** The same of one pixel. */
export function differenceAt(
  reference: LabRows,
  painted: LabRows,
  j: number,
  i: number,
  of: Difference = 'all',
): number {
  if (Number.isNaN(painted[i * 3]!) || Number.isNaN(reference[j * 3]!)) return NaN;
  const d = ciede2000(labAt(reference, j), labAt(painted, i));
  return of === 'all' ? d.deltaE : of === 'lightness' ? d.deltaL : of === 'chroma' ? d.deltaC : d.deltaH;
}

/** Lightness alone, evened out over so many pixels; what shows nothing takes no part. */
export function lightnessOf(rows: LabRows, width: number, height: number, sigma: number): Float32Array {
  const plane = Float32Array.from({ length: width * height }, (_, i) => rows[i * 3]!);
  return sigma > 0 ? blurred(plane, width, height, sigma) : plane;
}
