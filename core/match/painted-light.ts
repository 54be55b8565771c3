import { srgbToLinear } from '../color';
import { length, scale, type Vec3 } from '../math';
import type { UvMesh } from '../mesh';
import { solve } from './levenberg';
import type { SeenModel } from './see-model';

/** From where painted values are lit. */
export interface PaintedLight {
  /** Toward the light, unit, model space. */
  readonly direction: Vec3;
  /** How much of the values' differences it explains, 0..1. */
  readonly certainty: number;
}

/** A value at a place that looks somewhere. */
export interface ValuedNormal {
  readonly normal: Vec3;
  readonly value: number;
}

/** So many places tell a direction. */
const LEAST_PLACES = 24;

/**
 * The direction from which values are lit: a constant and one term along each axis over the normals by least squares, which are the spherical
 * harmonics up to the first order (R. Ramamoorthi and P. Hanrahan, "An efficient representation for irradiance environment maps", 2001).
 *
 * @returns null where there are too few places, or their normals don't differ enough
 */
export function fitLight(places: readonly ValuedNormal[]): PaintedLight | null {
  if (places.length < LEAST_PLACES) return null;
  const normal = new Float64Array(16);
  const right = new Float64Array(4);
  let mean = 0;
  for (const {
    normal: [x, y, z],
    value,
  } of places) {
    const row = [1, x, y, z];
    for (let a = 0; a < 4; a++) {
      right[a]! += row[a]! * value;
      for (let b = 0; b < 4; b++) normal[a * 4 + b]! += row[a]! * row[b]!;
    }
    mean += value / places.length;
  }
  // What isn't told by the normals is taken for none.
  for (let a = 1; a < 4; a++) normal[a * 5]! += places.length * 1e-4;
  const c = solve(normal, right, 4);
  const way: Vec3 | null = c && [c[1]!, c[2]!, c[3]!];
  if (!c || !way || !(length(way) > 1e-9)) return null;
  let [left, whole] = [0, 0];
  for (const {
    normal: [x, y, z],
    value,
  } of places) {
    left += (value - c[0]! - c[1]! * x - c[2]! * y - c[3]! * z) ** 2;
    whole += (value - mean) ** 2;
  }
  return { direction: scale(way, 1 / length(way)), certainty: whole > 0 ? Math.max(0, 1 - left / whole) : 0 };
}

/** Relative luminance of an sRGB-encoded pixel, 0..1 (IEC 61966-2-1). */
const luminance = (rgba: Uint8Array, i: number): number =>
  0.2126 * srgbToLinear(rgba[i * 4]! / 255) +
  0.7152 * srgbToLinear(rgba[i * 4 + 1]! / 255) +
  0.0722 * srgbToLinear(rgba[i * 4 + 2]! / 255);

/**
 * The light that is painted on each part, from what a camera sees of it.
 *
 * @param rows RGBA of the picture's size: the model as it is painted, or the reference
 * @returns one a part; null where it can't be told
 */
export function paintedLights(
  mesh: UvMesh,
  { faces, shares }: SeenModel,
  rows: Uint8Array,
): (PaintedLight | null)[] {
  const places: ValuedNormal[][] = mesh.parts.map(() => []);
  const { normals, indices } = mesh;
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i]!;
    if (f < 0 || rows[i * 4 + 3] === 0) continue;
    const [sb, sc] = [shares[i * 2]!, shares[i * 2 + 1]!];
    const n = [0, 1, 2].map(
      (k) =>
        normals[indices[f * 3]! * 3 + k]! * (1 - sb - sc) +
        normals[indices[f * 3 + 1]! * 3 + k]! * sb +
        normals[indices[f * 3 + 2]! * 3 + k]! * sc,
    ) as unknown as Vec3;
    const l = length(n);
    if (l > 0) places[mesh.faceParts[f]!]!.push({ normal: scale(n, 1 / l), value: luminance(rows, i) });
  }
  return places.map(fitLight);
}

/** Degrees between two directions. */
export function degreesBetween(a: Vec3, b: Vec3): number {
  const cos = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (length(a) * length(b) || 1);
  return (Math.acos(Math.min(1, Math.max(-1, cos))) * 180) / Math.PI;
}
