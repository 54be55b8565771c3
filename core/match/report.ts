import { ciede2000, hexToRgb, paletteOf, rgbToCielab, type PaletteColor } from '../color';
import type { UvMesh } from '../mesh';
import type { Vec3 } from '../math';
import type { MatchCamera } from './camera';
import { compareColorsSeen, type PartMatch } from './color-match';
import { maskFromGround, type Rows } from './ground-mask';
import { cheapestPairs } from './pair-colors';
import { degreesBetween, paintedLights } from './painted-light';
import { seeModel, seenColors, type Albedo } from './see-model';
import { compareSilhouettes, type SilhouetteMatch } from './silhouette';

/** Colours of the reference beside those of the model that they go with best. */
export interface PalettePair {
  readonly reference: PaletteColor;
  readonly model: PaletteColor;
  readonly deltaE: number;
}

/** Where a part's paint is lit from, and how far that is from where the reference's is. */
export interface PartLight {
  readonly part: string;
  readonly direction: Vec3;
  readonly certainty: number;
  /** Between this and the same part of the reference, degrees; null where that can't be told. */
  readonly degrees: number | null;
}

/** Shares of pixels by how light they are: CIELAB lightness in steps of 5, the darkest first. */
export interface Values {
  readonly reference: readonly number[];
  readonly model: readonly number[];
}

export interface MatchReport {
  readonly silhouette: SilhouetteMatch;
  readonly deltaE: { readonly mean: number; readonly p50: number; readonly p95: number };
  readonly parts: readonly PartMatch[];
  readonly palette: readonly PalettePair[];
  readonly values: Values;
  readonly light: readonly PartLight[];
}

/** A report, and the pictures that it was made from. */
export interface Matched {
  readonly report: MatchReport;
  /** The model as its camera sees it, RGBA rows. */
  readonly painted: Uint8Array;
  readonly mask: Uint8Array;
  /** CIEDE2000 a pixel; NaN where it isn't told. */
  readonly field: Float32Array;
}

const PALETTE_COLORS = 10;
const VALUE_STEPS = 20;

/**
 * Compares a painted model with a picture of it, from where the picture was drawn.
 *
 * @param sheets albedo of each sheet
 * @param picture of the camera's size
 * @param mask 1 a pixel that belongs to the model; null: told by the ground
 * @throws CoreError `bad-argument` if no mask is given and the ground tells none
 */
export function matchModel(
  mesh: UvMesh,
  sheets: readonly Albedo[],
  camera: MatchCamera,
  picture: Rows,
  mask: Uint8Array | null,
): Matched {
  const own = mask ?? maskFromGround(picture);
  const seen = seeModel(mesh, camera);
  const painted = seenColors(mesh, seen, sheets);
  const silhouette = Uint8Array.from(seen.faces, (f) => (f >= 0 ? 1 : 0));
  const { deltaE, parts, field } = compareColorsSeen(mesh, seen, picture.rgba, own, painted);
  const masked = picture.rgba.slice();
  own.forEach((m, i) => {
    if (!m) masked.fill(0, i * 4, i * 4 + 4);
  });
  const [lights, wanted] = [paintedLights(mesh, seen, painted), paintedLights(mesh, seen, masked)];
  const light = lights.flatMap((is, p): PartLight[] => {
    if (!is) return [];
    const want = wanted[p];
    const degrees = want ? degreesBetween(is.direction, want.direction) : null;
    return [{ part: mesh.parts[p]!, direction: is.direction, certainty: is.certainty, degrees }];
  });
  return {
    report: {
      silhouette: compareSilhouettes(own, silhouette, camera.width, camera.height),
      deltaE,
      parts,
      palette: palettePairs(masked, painted),
      values: { reference: valuesOf(masked), model: valuesOf(painted) },
      light,
    },
    painted,
    mask: own,
    field,
  };
}

/** Main colours of two pictures, paired so that they differ least in sum. */
export function palettePairs(reference: Uint8Array, model: Uint8Array): PalettePair[] {
  const [a, b] = [paletteOf(reference, PALETTE_COLORS), paletteOf(model, PALETTE_COLORS)];
  const isSwapped = a.length > b.length;
  const [few, many] = isSwapped ? [b, a] : [a, b];
  if (few.length === 0) return [];
  const labOf = ({ hex }: PaletteColor) => rgbToCielab(hexToRgb(hex));
  const cost = few.map((p) => many.map((q) => ciede2000(labOf(p), labOf(q)).deltaE));
  return cheapestPairs(cost).map((column, row) => {
    const [p, q] = [few[row]!, many[column]!];
    const deltaE = cost[row]![column]!;
    return isSwapped ? { reference: q, model: p, deltaE } : { reference: p, model: q, deltaE };
  });
}

/** Shares of what a picture shows by its lightness. */
export function valuesOf(rgba: Uint8Array): number[] {
  const out = new Array<number>(VALUE_STEPS).fill(0);
  let whole = 0;
  for (let i = 0; i < rgba.length; i += 4) {
    if (rgba[i + 3] === 0) continue;
    const { L } = rgbToCielab({ r: rgba[i]!, g: rgba[i + 1]!, b: rgba[i + 2]! });
    const step = Math.min(VALUE_STEPS - 1, Math.max(0, Math.floor((L / 100) * VALUE_STEPS)));
    out[step]!++;
    whole++;
  }
  return whole > 0 ? out.map((n) => n / whole) : out;
}
