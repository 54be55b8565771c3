import { srgbToLinear } from '../../color';
import { add, cross, dot, length, normalize, scale, type Vec3 } from '../../math';
import type { UvMesh } from '../../mesh';
import { solve } from '../camera/levenberg';
import { normalSeen, type SeenModel } from '../camera/see-model';

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
  const certaintyOf = (left: number): number => (whole > 0 ? Math.max(0, 1 - left / whole) : 0);
  const direction = scale(best.toward, 1 / length(best.toward));
  const stepped = byOrder(places, direction);
  const left = Math.min(first, second);
  return stepped.left < left * STEPPED
    ? { direction: stepped.direction, certainty: certaintyOf(stepped.left) }
    : { direction, certainty: certaintyOf(left) };
}

/** Values that only have to rise leave less than this of what an even rise leaves: then they were painted in steps. */
const STEPPED = 0.6;

/** A direction is looked for so far around, degrees, nearer and nearer. */
const TURNS = [24, 12, 6, 3, 1.5, 0.7] as const;

/** So many places tell it. */
const ORDERED_PLACES = 400;

/**
 * The direction along which values rise, in whatever steps: flat tones, as in cel paint, aren't even. At each direction what is left is that
 * of the best rising function (isotonic regression by pooling neighbours that fall: M. Ayer and others, 1955); the least is looked for
 * around a start.
 */
function byOrder(places: readonly ValuedNormal[], start: Vec3): { direction: Vec3; left: number } {
  const step = Math.max(1, places.length / ORDERED_PLACES);
  const some = Array.from(
    { length: Math.floor(places.length / step) },
    (_, k) => places[Math.floor(k * step)]!,
  );
  let direction = start;
  let left = leftOfRise(some, direction);
  for (const turn of TURNS) {
    for (let tries = 0; tries < 6; tries++) {
      const best = around(direction, (turn * Math.PI) / 180)
        .map((way) => ({ way, left: leftOfRise(some, way) }))
        .reduce((a, b) => (b.left < a.left ? b : a));
      if (best.left >= left) break;
      direction = best.way;
      left = best.left;
    }
  }
  return { direction, left: left * (places.length / some.length) };
}

/** Eight directions around one, so far from it. */
function around(direction: Vec3, angle: number): Vec3[] {
  const side = normalize(cross(Math.abs(direction[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0], direction));
  const other = cross(direction, side);
  return Array.from({ length: 8 }, (_, k) => {
    const [c, s] = [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)];
    const aside = add(scale(side, c), scale(other, s));
    return normalize(add(scale(direction, Math.cos(angle)), scale(aside, Math.sin(angle))));
  });
}

/** What the best function that rises along a direction leaves of values, squared and summed. */
function leftOfRise(places: readonly ValuedNormal[], direction: Vec3): number {
  const sorted = places
    .map(({ normal, value }) => ({ at: dot(normal, direction), value }))
    .sort((a, b) => a.at - b.at);
  const sums: number[] = [];
  const counts: number[] = [];
  let squares = 0;
  for (const { value } of sorted) {
    let [sum, count] = [value, 1];
    squares += value * value;
    while (sums.length > 0 && sums.at(-1)! / counts.at(-1)! >= sum / count) {
      sum += sums.pop()!;
      count += counts.pop()!;
    }
    sums.push(sum);
    counts.push(count);
  }
  return sums.reduce((left, sum, k) => left - (sum * sum) / counts[k]!, squares);
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
  const inside = insideOf(mesh, seen);
  const all = mesh.parts.map((): number[] => []);
  const within = mesh.parts.map((): number[] => []);
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i]!;
    if (f < 0 || rows[i * 4 + 3] === 0) continue;
    all[mesh.faceParts[f]!]!.push(i);
    if (inside[i]) within[mesh.faceParts[f]!]!.push(i);
  }
  return all.map((pixels, part) => {
    const own = within[part]!.length >= LEAST_PLACES * 4 ? within[part]! : pixels;
    const step = Math.ceil(own.length / MOST_PLACES);
    const places: ValuedNormal[] = [];
    for (let k = 0; k < own.length; k += step) {
      const i = own[k]!;
      places.push({ normal: normalSeen(mesh, seen, i), value: luminance(rows, i) });
    }
    return fitLight(places);
  });
}

/** So many pixels from its border a part has lines as well as light. */
const BORDER = 3;

/** 1 a pixel around which the same part is seen: no line of ink at a part's border. */
function insideOf(mesh: UvMesh, { faces, width }: SeenModel): Uint8Array {
  const partOf = (i: number): number => (faces[i]! >= 0 ? mesh.faceParts[faces[i]!]! : -1);
  return Uint8Array.from(faces, (f, i) => {
    if (f < 0) return 0;
    const part = partOf(i);
    const isSame = [-BORDER, BORDER, -BORDER * width, BORDER * width].every(
      (d) => i + d >= 0 && i + d < faces.length && partOf(i + d) === part,
    );
    return isSame ? 1 : 0;
  });
}

/** Degrees between two directions. */
export function degreesBetween(a: Vec3, b: Vec3): number {
  const cos = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (length(a) * length(b) || 1);
  return (Math.acos(Math.min(1, Math.max(-1, cos))) * 180) / Math.PI;
}
