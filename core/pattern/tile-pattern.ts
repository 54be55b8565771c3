import { centreOf, diagonalOf, subjectBounds } from '../mesh';
import {
  codesOfTile,
  NOWHERE,
  placeOfTile,
  texelLengths,
  texelPosition,
  TILE,
  TILE_TEXELS,
  type PlaceReader,
  type SurfaceMap,
} from '../surface';
import type { PatternSpec } from './pattern';
import { samplePyramid, type Pyramid } from './pyramid';

/** Values of a tile's texels, one after the other; 0 where nothing lies. */
export type PatternPainter = (tile: number) => Float32Array | null;

/**
 * How a model is looked at from its three sides: for each axis the directions in which the pattern runs to the right and up. From the
 * other side of an axis it runs the other way, so that nothing is seen mirrored.
 */
const SIDES = [
  { right: 2, turnsRight: -1, up: 1, turnsUp: 1 },
  { right: 0, turnsRight: 1, up: 2, turnsUp: -1 },
  { right: 0, turnsRight: 1, up: 1, turnsUp: 1 },
] as const;

/** How sharply sides are told apart where they don't run into one another. */
const SHARPEST = 24;

/**
 * A picture tiled over a surface: seen from the three sides of the model, each place mostly from the side that it faces, or as it lies
 * on the sheet. Where texels are larger than the picture's pixels, its halvings are read.
 *
 * @returns for a tile its channels a texel; colours premultiplied
 */
export function tilePattern(
  spec: PatternSpec,
  pyramid: Pyramid,
  surface: SurfaceMap,
  places: PlaceReader,
): PatternPainter {
  const { channels, levels, mean } = pyramid;
  const picture = levels[0]!;
  const bounds = subjectBounds(surface.mesh);
  const c = centreOf(bounds);
  const diagonal = diagonalOf(bounds) || 1;
  const wide = spec.size * (spec.lay === 'sides' ? diagonal : 1);
  const tall = (wide * picture.height) / picture.width;
  const [cos, sin] = [Math.cos(spec.turn), Math.sin(spec.turn)];
  const power = SHARPEST ** (1 - spec.blend);
  const texelLength = texelLengths(surface);
  const sum = new Float64Array(channels);
  const p = [0, 0, 0];
  const n = [0, 0, 0];
  const weights = [0, 0, 0];

  /** Adds what the picture has at a place. @param right, up in the units of `wide` */
  const add = (right: number, up: number, level: number, weight: number): void =>
    samplePyramid(
      pyramid,
      (right * cos + up * sin) / wide,
      (up * cos - right * sin) / tall,
      level,
      weight,
      sum,
    );

  const fromSides = (level: number): void => {
    let whole = 0;
    for (let axis = 0; axis < 3; axis++) whole += weights[axis] = Math.abs(n[axis]!) ** power;
    for (let axis = 0; axis < 3; axis++) {
      const weight = whole > 0 ? weights[axis]! / whole : 1 / 3;
      if (weight < 1e-3) continue;
      const side = SIDES[axis]!;
      const way = n[axis]! < 0 ? -1 : 1;
      // From below, what runs up runs the other way; from the other sides, what runs to the right.
      const right = p[side.right]! * side.turnsRight * (axis === 1 ? 1 : way);
      const up = p[side.up]! * side.turnsUp * (axis === 1 ? way : 1);
      add(right, up, level, weight);
    }
  };

  return (tile) => {
    const codes = codesOfTile(surface, tile);
    const at = places.tile(tile);
    if (!codes || !at) return null;
    const { size, x: left, y: top } = placeOfTile(surface.sheets, tile);
    const out = new Float32Array(TILE_TEXELS * channels);
    for (let i = 0; i < TILE_TEXELS; i++) {
      const code = codes[i]!;
      if (code < 0 || at.px[i]! >= NOWHERE) continue;
      sum.fill(0);
      const texel = spec.lay === 'sides' ? texelLength(code >> 2, tile) : 1 / size;
      const level = Math.log2(Math.max(1e-9, (texel * picture.width) / wide));
      if (spec.lay === 'sides') {
        p[0] = at.px[i]! - c[0];
        p[1] = at.py[i]! - c[1];
        p[2] = at.pz[i]! - c[2];
        n[0] = at.nx[i]! / 32767;
        n[1] = at.ny[i]! / 32767;
        n[2] = at.nz[i]! / 32767;
        fromSides(level);
      } else {
        const [x, y] = texelPosition(TILE, i);
        add((left + x + 0.5) / size, 1 - (top + y + 0.5) / size, level, 1);
      }
      for (let k = 0; k < channels; k++) {
        const v = sum[k]!;
        // An alpha stays as it is; premultiplied colours move about a mean that has as much of it.
        const middle = channels === 4 ? (mean[3]! > 0 ? (mean[k]! / mean[3]!) * sum[3]! : 0) : mean[0]!;
        out[i * channels + k] = k === 3 ? v : clamped(middle + (v - middle) * spec.contrast);
      }
    }
    return out;
  };
}

const clamped = (x: number): number => (x < 0 ? 0 : x > 1 ? 1 : x);
