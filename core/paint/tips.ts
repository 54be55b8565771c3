import { CoreError } from '../errors';
import type { Picture } from '../formats';
import { clamp01, seededRandom, smoothstep } from '../math';
import { PICTURE_TIP, type BrushShape, type TipName } from './brush';

/** Texels a side of a tip's picture. */
const SIDE = 128;

/** A tip's picture and halves of it, the largest first: coverage 0..255 over the square -1..1, u to the right, v upward. */
export interface TipPicture {
  readonly levels: readonly TipLevel[];
}

interface TipLevel {
  readonly side: number;
  readonly values: Uint8Array;
}

/** Coverage at a place of the unit disc. */
type Drawing = (u: number, v: number) => number;

const made = new Map<TipName, TipPicture>();

/**
 * The picture of a brush's tip; null for the round one, which needs none.
 *
 * @param pictureOf reads the project's patterns; a tip whose picture isn't there paints nothing
 */
export function tipOf(
  { tip, picture }: Pick<BrushShape, 'tip' | 'picture'>,
  pictureOf: (id: number) => Picture | null,
): TipPicture | null {
  if (tip !== PICTURE_TIP) return tipPicture(tip);
  const found = picture === null ? null : pictureOf(picture);
  if (!found) return NOTHING;
  let known = ofPictures.get(found);
  if (!known) ofPictures.set(found, (known = tipOfPicture(found)));
  return known;
}

const ofPictures = new WeakMap<Picture, TipPicture>();

/** A picture covers by its alpha; one without any, by how dark it is. Beyond this alpha nothing counts as seen through. */
const OPAQUE = 250;

/** What covers less than this doesn't count for how large a picture is. */
const SEEN = 8;

/**
 * A picture as a tip. It is scaled about its middle until the farthest place where it covers anything reaches the rim, so that a square
 * one is whole as well.
 */
export function tipOfPicture({ width, height, rgba }: Picture): TipPicture {
  const count = width * height;
  let isOpaque = true;
  for (let i = 0; i < count && isOpaque; i++) isOpaque = rgba[i * 4 + 3]! >= OPAQUE;
  const covers = Float32Array.from({ length: count }, (_, i) => {
    const o = i * 4;
    if (!isOpaque) return rgba[o + 3]!;
    // Rec. 709 luma: what is dark covers.
    return 255 - (0.2126 * rgba[o]! + 0.7152 * rgba[o + 1]! + 0.0722 * rgba[o + 2]!);
  });
  let reach = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (covers[y * width + x]! < SEEN) continue;
      // The far corner of the pixel.
      const [dx, dy] = [Math.abs(x + 0.5 - width / 2) + 0.5, Math.abs(y + 0.5 - height / 2) + 0.5];
      reach = Math.max(reach, Math.sqrt(dx * dx + dy * dy));
    }
  }
  if (reach === 0) return NOTHING;
  const scale = (2 * reach) / SIDE;
  const out = new Uint8Array(SIDE * SIDE);
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      const from = [width / 2 - reach + x * scale, height / 2 - reach + y * scale] as const;
      out[y * SIDE + x] = Math.round(meanOver(covers, width, height, ...from, scale));
    }
  }
  return { levels: halves(out) };
}

/**
 * A picture as it is kept for a tip: small, black, covering by its alpha.
 *
 * @throws CoreError `file-unsupported` if it covers nothing anywhere
 */
export function keptTip(picture: Picture): Picture {
  const tip = tipOfPicture(picture);
  if (tip === NOTHING) {
    throw new CoreError(
      'file-unsupported',
      'That picture covers nothing: a tip paints where its picture is dark, or, if some of it is transparent, where it isn’t.',
    );
  }
  const { side, values } = tip.levels[0]!;
  const rgba = new Uint8Array(side * side * 4);
  values.forEach((value, i) => (rgba[i * 4 + 3] = value));
  return { width: side, height: side, rgba };
}

/** The mean over a square of a picture, each pixel by how much of it lies within; nothing lies beyond its rim. */
function meanOver(
  values: Float32Array,
  width: number,
  height: number,
  left: number,
  top: number,
  side: number,
): number {
  let sum = 0;
  for (let y = Math.max(0, Math.floor(top)); y < Math.min(height, top + side); y++) {
    const tall = Math.min(y + 1, top + side) - Math.max(y, top);
    for (let x = Math.max(0, Math.floor(left)); x < Math.min(width, left + side); x++) {
      sum += values[y * width + x]! * tall * (Math.min(x + 1, left + side) - Math.max(x, left));
    }
  }
  return sum / (side * side);
}

/** The picture of a tip that is made by code; null for the round one. */
export function tipPicture(name: TipName): TipPicture | null {
  const draw = DRAWINGS[name];
  if (!draw) return null;
  let tip = made.get(name);
  if (!tip) made.set(name, (tip = { levels: halves(drawn(draw())) }));
  return tip;
}

/** The halving of a tip from which it is read. @param pixels so many pixels of the picture there are to a texel of the sheet */
export function tipLevel({ levels }: TipPicture, pixels: number): TipLevel {
  let level = 0;
  while (level < levels.length - 1 && pixels > 1.5 * (1 << level)) level++;
  return levels[level]!;
}

/** Coverage between a tip's pixels. @param u, v place on the tip, -1..1 */
export function tipCoverage(side: number, values: Uint8Array, u: number, v: number): number {
  const x = Math.min(side - 1, Math.max(0, (u + 1) * 0.5 * side - 0.5));
  const y = Math.min(side - 1, Math.max(0, (1 - v) * 0.5 * side - 0.5));
  const ix = Math.min(side - 2, Math.floor(x));
  const iy = Math.min(side - 2, Math.floor(y));
  const fx = x - ix;
  const fy = y - iy;
  const o = iy * side + ix;
  const above = values[o]! * (1 - fx) + values[o + 1]! * fx;
  const below = values[o + side]! * (1 - fx) + values[o + side + 1]! * fx;
  return (above * (1 - fy) + below * fy) / 255;
}

/** How many pixels of a tip's picture a texel spans where the brush has a radius of so many texels. */
export const pixelsPerTexel = (radiusInTexels: number): number => SIDE / (2 * Math.max(radiusInTexels, 0.25));

/** A tip that covers nothing. */
const NOTHING: TipPicture = { levels: [{ side: 4, values: new Uint8Array(16) }] };

function drawn(draw: Drawing): Uint8Array {
  const out = new Uint8Array(SIDE * SIDE);
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      let sum = 0;
      // Four samples a pixel: hard edges come out smooth.
      for (const [dx, dy] of [
        [0.25, 0.25],
        [0.75, 0.25],
        [0.25, 0.75],
        [0.75, 0.75],
      ] as const) {
        const u = ((x + dx) / SIDE) * 2 - 1;
        const v = 1 - ((y + dy) / SIDE) * 2;
        sum += u * u + v * v < 1 ? clamp01(draw(u, v)) : 0;
      }
      out[y * SIDE + x] = Math.round((sum / 4) * 255);
    }
  }
  return out;
}

function halves(values: Uint8Array): TipPicture['levels'] {
  const levels = [{ side: SIDE, values }];
  for (let side = SIDE / 2; side >= 4; side /= 2) {
    const from = levels.at(-1)!.values;
    const half = new Uint8Array(side * side);
    for (let y = 0; y < side; y++) {
      for (let x = 0; x < side; x++) {
        const o = y * 2 * (side * 2) + x * 2;
        half[y * side + x] =
          (from[o]! + from[o + 1]! + from[o + side * 2]! + from[o + side * 2 + 1]! + 2) >> 2;
      }
    }
    levels.push({ side, values: half });
  }
  return levels;
}

/** Spots at random: middle, radius, strength. */
function spots(
  count: number,
  seed: number,
  radius: readonly [number, number],
): readonly (readonly [u: number, v: number, r: number, strength: number])[] {
  const random = seededRandom(seed);
  return Array.from({ length: count }, () => {
    const angle = random() * 2 * Math.PI;
    const out = Math.sqrt(random());
    const r = radius[0] + (radius[1] - radius[0]) * random() ** 2;
    const reach = Math.max(0, 0.98 - r);
    return [out * reach * Math.cos(angle), out * reach * Math.sin(angle), r, 0.35 + 0.65 * random()] as const;
  });
}

/** The strongest of some spots at a place. */
const spotted =
  (list: ReturnType<typeof spots>, soft: number): Drawing =>
  (u, v) =>
    list.reduce((most, [x, y, r, s]) => {
      const d = Math.hypot(u - x, v - y);
      return d < r ? Math.max(most, s * smoothstep(r, r * (1 - soft), d)) : most;
    }, 0);

/** Smooth noise along a line, 0..1. */
function hairs(count: number, seed: number): (v: number) => number {
  const random = seededRandom(seed);
  const heights = Array.from({ length: count + 2 }, random);
  return (v) => {
    const at = (v + 1) * 0.5 * count;
    const i = Math.min(count, Math.max(0, Math.floor(at)));
    const t = at - i;
    return heights[i]! + (heights[i + 1]! - heights[i]!) * t * t * (3 - 2 * t);
  };
}

const disc: Drawing = (u, v) => smoothstep(1, 0.86, Math.hypot(u, v));

const DRAWINGS: Readonly<Record<TipName, (() => Drawing) | null>> = {
  round: null,
  // A row of hairs, wide across and thin along; the long side is u.
  'flat-bristle': () => {
    const hair = hairs(26, 11);
    return (u, v) =>
      smoothstep(0.36, 0.26, Math.abs(v) * (0.9 + 0.2 * hair(u))) *
      smoothstep(0.94, 0.86, Math.abs(u)) *
      (0.45 + 0.55 * smoothstep(0.15, 0.6, hair(u)));
  },
  'dry-bristle': () => {
    const hair = hairs(38, 23);
    const gaps = hairs(9, 24);
    return (u, v) =>
      smoothstep(0.5, 0.2, Math.abs(v) * (0.7 + 0.6 * gaps(u))) *
      smoothstep(0.95, 0.85, Math.abs(u)) *
      smoothstep(0.46, 0.68, hair(u) * (0.75 + 0.5 * gaps(u)));
  },
  chalk: () => {
    const grains = spotted(spots(420, 31, [0.02, 0.085]), 0.7);
    return (u, v) => disc(u, v) * grains(u, v) * (0.75 + 0.25 * (1 - Math.hypot(u, v)));
  },
  sponge: () => {
    const holes = spotted(spots(70, 41, [0.06, 0.2]), 0.5);
    const body = spotted(spots(26, 42, [0.2, 0.42]), 0.35);
    return (u, v) => body(u, v) * (1 - 0.9 * holes(u, v));
  },
  leaf: () => (u, v) => {
    const half = 0.42 * Math.max(0, 1 - u * u) ** 0.8 * (1 + 0.25 * u);
    const vein = smoothstep(0.015, 0.05, Math.abs(v));
    return smoothstep(half, half - 0.05, Math.abs(v)) * (0.55 + 0.45 * vein);
  },
  spatter: () => spotted(spots(46, 51, [0.02, 0.17]), 0.2),
  hatch: () => (u, v) => {
    const lines = smoothstep(0.32, 0.52, Math.abs(((v * 4.5 + 0.5) % 1) - 0.5) * 2);
    return (1 - lines) * smoothstep(0.98, 0.8, Math.hypot(u, v));
  },
  hair: () => {
    const random = seededRandom(61);
    const list = Array.from({ length: 15 }, () => ({
      v: (random() - 0.5) * 1.1,
      bend: (random() - 0.5) * 0.5,
      wide: 0.018 + 0.03 * random(),
      from: -0.95 + 0.5 * random(),
      to: 0.95 - 0.4 * random(),
    }));
    return (u, v) =>
      list.reduce((most, h) => {
        const t = (u - h.from) / (h.to - h.from);
        if (t < 0 || t > 1) return most;
        const wide = h.wide * Math.sqrt(Math.max(0, 4 * t * (1 - t)));
        return Math.max(most, smoothstep(wide, wide * 0.4, Math.abs(v - h.v - h.bend * t * t)));
      }, 0);
  },
  cloud: () => {
    const soft = spots(30, 71, [0.18, 0.5]);
    return (u, v) =>
      smoothstep(1, 0.3, Math.hypot(u, v)) *
      clamp01(
        soft.reduce((sum, [x, y, r, s]) => {
          const d = Math.hypot(u - x, v - y) / r;
          return sum + (d < 1 ? s * 0.42 * (1 - d * d) ** 2 : 0);
        }, 0),
      );
  },
  // A broad pen, cut slantwise.
  nib: () => (u, v) => smoothstep(0.2, 0.15, Math.abs(v + 0.12 * u)) * smoothstep(0.95, 0.88, Math.abs(u)),
  square: () => (u, v) => smoothstep(0.71, 0.67, Math.max(Math.abs(u), Math.abs(v))),
};
