import { srgbToLinear } from '../color';
import { dot, length, scale, type Vec3 } from '../math';
import type { UvMesh } from '../mesh';
import { solve } from './levenberg';
import { normalSeen, type SeenModel } from './see-model';

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

/** More of a part's pixels tell nothing more. */
const MOST_PLACES = 1500;

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
  const even: Rise = { least: -Infinity, base: c[0]!, toward: way };
  const lit = litSide(places, even);
  const [first, second] = [leftOver(places, even), lit ? leftOver(places, lit) : Infinity];
  const best = lit && second < first ? lit : even;
  const whole = places.reduce((s, { value }) => s + (value - mean) ** 2, 0);
  return {
    direction: scale(best.toward, 1 / length(best.toward)),
    certainty: whole > 0 ? Math.max(0, 1 - Math.min(first, second) / whole) : 0,
  };
}

/** Values that rise toward a light from a base, and are never less than what the side has that it doesn't reach. */
interface Rise {
  readonly least: number;
  readonly base: number;
  readonly toward: Vec3;
}

const valueOf = ({ least, base, toward }: Rise, normal: Vec3): number =>
  Math.max(least, base + dot(normal, toward));

function leftOver(places: readonly ValuedNormal[], rise: Rise): number {
  return places.reduce((sum, { normal, value }) => sum + (value - valueOf(rise, normal)) ** 2, 0);
}

/** Rounds of telling what is lit and fitting to that; it settles in a few. */
const LIT_ROUNDS = 10;

/**
 * The same for a light that ends where the surface turns away from it (Lambert, or wrapped): where a camera sees one side only, harmonics
 * of the first order alone lean toward the eye. What is lit is told by the fit before, then fitted by least squares, in rounds.
 */
function litSide(places: readonly ValuedNormal[], start: Rise): Rise | null {
  let rise: Rise = { ...start, least: darkest(places) };
  for (let round = 0; round < LIT_ROUNDS; round++) {
    const normal = new Float64Array(16);
    const right = new Float64Array(4);
    let [dark, count] = [0, 0];
    for (const { normal: n, value } of places) {
      if (rise.base + dot(n, rise.toward) <= rise.least) {
        dark += value;
        count++;
        continue;
      }
      const row = [1, n[0], n[1], n[2]];
      for (let a = 0; a < 4; a++) {
        right[a]! += row[a]! * value;
        for (let b = 0; b < 4; b++) normal[a * 4 + b]! += row[a]! * row[b]!;
      }
    }
    if (places.length - count < LEAST_PLACES) return null;
    for (let a = 1; a < 4; a++) normal[a * 5]! += places.length * 1e-5;
    const c = solve(normal, right, 4);
    if (!c) return null;
    const toward: Vec3 = [c[1]!, c[2]!, c[3]!];
    if (!(length(toward) > 1e-9)) return null;
    rise = { least: count > 0 ? dark / count : -Infinity, base: c[0]!, toward };
  }
  return rise;
}

/** The value that a twentieth of all are below. */
const darkest = (places: readonly ValuedNormal[]): number =>
  places.map((p) => p.value).sort((a, b) => a - b)[Math.floor(places.length / 20)]!;

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
export function paintedLights(mesh: UvMesh, seen: SeenModel, rows: Uint8Array): (PaintedLight | null)[] {
  const { faces } = seen;
  const counts = new Int32Array(mesh.parts.length);
  for (let i = 0; i < faces.length; i++) {
    if (faces[i]! >= 0 && rows[i * 4 + 3] !== 0) counts[mesh.faceParts[faces[i]!]!]!++;
  }
  const passed = new Int32Array(mesh.parts.length);
  const places: ValuedNormal[][] = mesh.parts.map(() => []);
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i]!;
    if (f < 0 || rows[i * 4 + 3] === 0) continue;
    const part = mesh.faceParts[f]!;
    if (passed[part]!++ % Math.ceil(counts[part]! / MOST_PLACES) === 0)
      places[part]!.push({ normal: normalSeen(mesh, seen, i), value: luminance(rows, i) });
  }
  return places.map(fitLight);
}

/** Degrees between two directions. */
export function degreesBetween(a: Vec3, b: Vec3): number {
  const cos = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (length(a) * length(b) || 1);
  return (Math.acos(Math.min(1, Math.max(-1, cos))) * 180) / Math.PI;
}
