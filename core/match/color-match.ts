import { ciede2000, compareColors, rgbToCielab, type Cielab, type Rgb } from '../color';
import type { UvMesh } from '../mesh';
import type { SeenModel } from './see-model';

/** How a part's colour in the picture and on the model differ. */
export interface PartMatch {
  readonly part: string;
  /** Pixels that both show. */
  readonly pixels: number;
  readonly reference: Rgb;
  readonly model: Rgb;
  /** CIEDE2000 between the mean colours. */
  readonly deltaE: number;
  /** The paint against the picture: “too warm and dark”. */
  readonly words: string;
}

export interface ColorMatch {
  /** CIEDE2000 pixel by pixel where both show something: mean, middle, and what 95 of 100 are below. */
  readonly deltaE: { readonly mean: number; readonly p50: number; readonly p95: number };
  readonly parts: readonly PartMatch[];
  /** A pixel's difference; NaN where only one of them shows something, or none. */
  readonly field: Float32Array;
}

/**
 * Compares a picture with the model as its camera sees it.
 *
 * @param picture RGBA rows @param mask 1 a pixel that belongs to the model in the picture
 * @param painted RGBA rows of the model as it is seen
 */
export function compareColorsSeen(
  mesh: UvMesh,
  { faces }: SeenModel,
  picture: Uint8Array,
  mask: Uint8Array,
  painted: Uint8Array,
): ColorMatch {
  const field = new Float32Array(faces.length).fill(NaN);
  const known = new Map<number, Cielab>();
  const labOf = (rows: Uint8Array, i: number): Cielab => {
    const key = (rows[i * 4]! << 16) | (rows[i * 4 + 1]! << 8) | rows[i * 4 + 2]!;
    let lab = known.get(key);
    if (!lab) known.set(key, (lab = rgbToCielab({ r: key >> 16, g: (key >> 8) & 255, b: key & 255 })));
    return lab;
  };
  const sums = mesh.parts.map(() => ({ count: 0, reference: [0, 0, 0], model: [0, 0, 0] }));
  const all: number[] = [];
  for (let i = 0; i < faces.length; i++) {
    if (faces[i]! < 0 || !mask[i]) continue;
    const { deltaE } = ciede2000(labOf(picture, i), labOf(painted, i));
    field[i] = deltaE;
    all.push(deltaE);
    const sum = sums[mesh.faceParts[faces[i]!]!]!;
    sum.count++;
    for (let c = 0; c < 3; c++) {
      sum.reference[c]! += picture[i * 4 + c]!;
      sum.model[c]! += painted[i * 4 + c]!;
    }
  }
  const sorted = Float64Array.from(all).sort();
  const at = (share: number): number =>
    sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;
  const mean = all.length > 0 ? all.reduce((a, b) => a + b, 0) / all.length : 0;
  const parts = sums.flatMap(({ count, reference, model }, p): PartMatch[] => {
    if (count === 0) return [];
    const rgb = (sum: readonly number[]): Rgb => ({
      r: Math.round(sum[0]! / count),
      g: Math.round(sum[1]! / count),
      b: Math.round(sum[2]! / count),
    });
    const [wanted, is] = [rgb(reference), rgb(model)];
    const { deltaE, words } = compareColors(is, wanted);
    return [{ part: mesh.parts[p]!, pixels: count, reference: wanted, model: is, deltaE, words }];
  });
  return { deltaE: { mean, p50: at(0.5), p95: at(0.95) }, parts, field };
}
