import { clamp01, seededRandom, smoothstep } from '../math';
import type { TipName } from './brush';

/** Texels a side of a tip's picture. */
const SIDE = 128;

/** A tip's picture and halves of it, the largest first: coverage 0..255 over the square -1..1, u to the right, v upward. */
export interface TipPicture {
  readonly levels: readonly { readonly side: number; readonly values: Uint8Array }[];
}

/** Coverage at a place of the unit disc. */
type Drawing = (u: number, v: number) => number;

const made = new Map<TipName, TipPicture>();

/** The picture of a tip; null for the round one, which needs none. */
export function tipPicture(name: TipName): TipPicture | null {
  const draw = DRAWINGS[name];
  if (!draw) return null;
  let tip = made.get(name);
  if (!tip) made.set(name, (tip = { levels: halves(drawn(draw())) }));
  return tip;
}

/** @param u, v place on the tip, -1..1 @param pixels so many pixels of the picture there are to a texel of the sheet */
export function tipCoverage({ levels }: TipPicture, u: number, v: number, pixels: number): number {
  let level = 0;
  while (level < levels.length - 1 && pixels > 1.5 * (1 << level)) level++;
  const { side, values } = levels[level]!;
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
