import { clamp01, mix } from './scalar';

/** A whole number of 32 bits from three and a seed, well mixed (the finisher of MurmurHash3, A. Appleby). */
function hash(x: number, y: number, z: number, seed: number): number {
  let h =
    Math.imul(x, 0x8da6b343) ^
    Math.imul(y, 0xd8163841) ^
    Math.imul(z, 0xcb1ab31f) ^
    Math.imul(seed + 1, 0x9e3779b1);
  h ^= h >>> 16;
  h = Math.imul(h, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

const unit = (x: number, y: number, z: number, seed: number): number => hash(x, y, z, seed) / 4294967296;

/** Without kinks in its second derivative (K. Perlin, "Improving noise", 2002). */
const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);

/** Values at whole numbers, smooth between: 0..1. */
function lattice(x: number, y: number, z: number, seed: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const iz = Math.floor(z);
  const u = fade(x - ix);
  const v = fade(y - iy);
  const lower = mix(row(ix, iy, iz, u, seed), row(ix, iy + 1, iz, u, seed), v);
  const upper = mix(row(ix, iy, iz + 1, u, seed), row(ix, iy + 1, iz + 1, u, seed), v);
  return mix(lower, upper, fade(z - iz));
}

/** Between two neighbours along x. */
const row = (ix: number, iy: number, iz: number, u: number, seed: number): number =>
  mix(unit(ix, iy, iz, seed), unit(ix + 1, iy, iz, seed), u);

/** Octaves that are laid over one another, each half as large and half as strong as the one before. */
const OCTAVES = 4;

function octaves(
  x: number,
  y: number,
  z: number,
  seed: number,
  count: number,
  of: (value: number) => number,
): number {
  let sum = 0;
  let whole = 0;
  let size = 1;
  let strength = 1;
  for (let o = 0; o < count; o++) {
    // An odd turn between octaves would be felt less than a shift, which costs nothing.
    sum += strength * of(lattice(x * size + o * 17.17, y * size + o * 31.31, z * size + o * 7.77, seed + o));
    whole += strength;
    size *= 2;
    strength /= 2;
  }
  return sum / whole;
}

/** Sums of octaves keep near the middle: this much more contrast uses 0..1. */
const VALUE_CONTRAST = 2;

/** Soft clouds: 0..1. Coordinates in grains. @param count octaves that are laid over one another */
export const valueNoise = (x: number, y: number, z: number, seed: number, count = OCTAVES): number =>
  clamp01(0.5 + (octaves(x, y, z, seed, count, same) - 0.5) * VALUE_CONTRAST);

/** Sharp veins that are bright: 0..1 (F. K. Musgrave, in "Texturing and Modeling", 1994). */
export const ridgedNoise = (x: number, y: number, z: number, seed: number, count = OCTAVES): number =>
  clamp01(octaves(x, y, z, seed, count, ridge) * 1.25);

const same = (v: number): number => v;
const ridge = (v: number): number => (1 - Math.abs(2 * v - 1)) ** 2;

/** Cells: the distance to the nearest of one scattered point a grain, 0 at points (S. Worley, "A cellular texture basis function", 1996). */
export function cellularNoise(x: number, y: number, z: number, seed: number): number {
  const [ix, iy, iz] = [Math.floor(x), Math.floor(y), Math.floor(z)];
  let best = Infinity;
  for (let dx = -1; dx <= 1; dx++) {
    for (let dy = -1; dy <= 1; dy++) {
      for (let dz = -1; dz <= 1; dz++) {
        const [cx, cy, cz] = [ix + dx, iy + dy, iz + dz];
        const ox = cx + unit(cx, cy, cz, seed) - x;
        const oy = cy + unit(cx, cy, cz, seed + 101) - y;
        const oz = cz + unit(cx, cy, cz, seed + 211) - z;
        best = Math.min(best, ox * ox + oy * oy + oz * oz);
      }
    }
  }
  return Math.min(1, Math.sqrt(best));
}
