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

/** Numbers of a cell that is remembered: where it is, its seed, and the values at its eight corners. */
const CELL = 12;

/**
 * The cell that was looked at last, an octave. Texels are asked for in rows, and most lie in the cell of the one before: its corners needn't
 * be hashed again, which takes three quarters of the time. It holds nothing that the arguments don't tell.
 */
const lastCells = new Float64Array(CELL * 4).fill(NaN);

function rememberCell(o: number, ix: number, iy: number, iz: number, seed: number): void {
  lastCells[o] = ix;
  lastCells[o + 1] = iy;
  lastCells[o + 2] = iz;
  lastCells[o + 3] = seed;
  for (let k = 0; k < 8; k++) {
    lastCells[o + 4 + k] = unit(ix + (k & 1), iy + ((k >> 1) & 1), iz + (k >> 2), seed);
  }
}

/** Values at whole numbers, smooth between: 0..1. @param octave which of the remembered cells to look at */
function lattice(x: number, y: number, z: number, seed: number, octave: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const iz = Math.floor(z);
  const o = octave * CELL;
  const c = lastCells;
  if (c[o] !== ix || c[o + 1] !== iy || c[o + 2] !== iz || c[o + 3] !== seed) {
    rememberCell(o, ix, iy, iz, seed);
  }
  const u = fade(x - ix);
  const v = fade(y - iy);
  const lower = mix(mix(c[o + 4]!, c[o + 5]!, u), mix(c[o + 6]!, c[o + 7]!, u), v);
  const upper = mix(mix(c[o + 8]!, c[o + 9]!, u), mix(c[o + 10]!, c[o + 11]!, u), v);
  return mix(lower, upper, fade(z - iz));
}

/** Octaves that are laid over one another, each half as large and half as strong as the one before. */
const OCTAVES = 4;

function octaves(x: number, y: number, z: number, seed: number, count: number, ridged: boolean): number {
  let sum = 0;
  let whole = 0;
  let size = 1;
  let strength = 1;
  for (let o = 0; o < count; o++) {
    // An odd turn between octaves would be felt less than a shift, which costs nothing.
    const value = lattice(x * size + o * 17.17, y * size + o * 31.31, z * size + o * 7.77, seed + o, o & 3);
    sum += strength * (ridged ? ridge(value) : value);
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
  clamp01(0.5 + (octaves(x, y, z, seed, count, false) - 0.5) * VALUE_CONTRAST);

/** Sharp veins that are bright: 0..1 (F. K. Musgrave, in "Texturing and Modeling", 1994). */
export const ridgedNoise = (x: number, y: number, z: number, seed: number, count = OCTAVES): number =>
  clamp01(octaves(x, y, z, seed, count, true) * 1.25);

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
