import { upperMedian } from '../../math';
import { blurred } from './blur';
import { lightnessOf, type LabRows } from './lab-rows';

/** How a picture is drawn: its borders, its lines, its texture. */
export interface EdgeMeasures {
  /** Of all borders between values, the part that is crisp, 0..1; the rest is soft. */
  readonly crisp: number;
  /** Usual width of dark lines in percent of the picture's height; null where there are none to speak of. */
  readonly lineWidth: number | null;
  /** How much values waver away from borders, CIELAB lightness: fine, middling, coarse. */
  readonly grain: readonly [number, number, number];
}

/** A border is a step of at least so much lightness, and crisp if it is crossed within this part of the height. */
const STEP = 8;
const CRISP = 1 / 180;
/** Farther than this across, a step is shading. */
const SHADING = 1 / 30;

/** A line is darker than both of its sides by so much, and no wider than this part of the height. */
const LINE_DARKER = 12;
const WIDEST_LINE = 1 / 50;
/** So much of the picture is lines at the least where there are any. */
const LEAST_LINES = 0.002;

/** Sizes of texture, parts of the height. */
const GRAINS = [1 / 400, 1 / 160, 1 / 64] as const;

export function measureEdges(rows: LabRows, width: number, height: number): EdgeMeasures {
  const light = lightnessOf(rows, width, height, 0);
  return {
    crisp: crispShare(light, width, height),
    lineWidth: lineWidth(light, width, height),
    grain: grainOf(light, width, height),
  };
}

/** Along rows and columns: how far a steep place's step goes on both ways, against how steep it is. */
function crispShare(light: Float32Array, width: number, height: number): number {
  const reach = Math.max(2, Math.round(height * SHADING));
  let [crisp, all] = [0, 0];
  const along = (count: number, lines: number, stride: number, next: number): void => {
    for (let k = 0; k < lines; k++) {
      const at = (i: number): number => light[k * next + i * stride]!;
      for (let i = 1; i + 1 < count; i++) {
        const slope = (at(i + 1) - at(i - 1)) / 2;
        // Only where it is steepest.
        if (!(Math.abs(slope) > 0.8)) continue;
        const before = i > 1 ? Math.abs(at(i) - at(i - 2)) / 2 : 0;
        const after = i + 2 < count ? Math.abs(at(i + 2) - at(i)) / 2 : 0;
        if (Math.abs(slope) < before || Math.abs(slope) <= after) continue;
        const way = Math.sign(slope);
        const end = (dir: 1 | -1): number => {
          let j = i;
          while (Math.abs(j + dir - i) <= reach && j + dir >= 0 && j + dir < count) {
            const d = (at(j + dir) - at(j)) * dir * way;
            if (!(d > 0.25)) break;
            j += dir;
          }
          return j;
        };
        const [from, to] = [end(-1), end(1)];
        const step = Math.abs(at(to) - at(from));
        if (!(step >= STEP)) continue;
        const across = step / Math.abs(slope);
        if (across > reach) continue;
        all++;
        if (across <= Math.max(2.5, height * CRISP)) crisp++;
      }
    }
  };
  along(width, height, 1, width);
  along(height, width, width, 1);
  return all > 0 ? crisp / all : 0;
}

/** Runs along rows and columns that are darker than what lies before and behind them; the shorter of the two is across. */
function lineWidth(light: Float32Array, width: number, height: number): number | null {
  const widest = Math.max(2, Math.round(height * WIDEST_LINE));
  const runs = new Uint16Array(light.length).fill(0xffff);
  const along = (count: number, lines: number, stride: number, next: number): void => {
    for (let k = 0; k < lines; k++) {
      const o = (i: number): number => k * next + i * stride;
      for (let i = 1; i < count;) {
        const before = light[o(i - 1)]!;
        if (!(before - light[o(i)]! > LINE_DARKER / 2)) {
          i++;
          continue;
        }
        // From where it gets darker to where it gets lighter again.
        let [j, low] = [i, Infinity];
        while (j < count && j - i < widest && light[o(j)]! < before - LINE_DARKER / 2)
          low = Math.min(low, light[o(j++)]!);
        if (j < count && j - i < widest && before - low > LINE_DARKER && light[o(j)]! - low > LINE_DARKER) {
          const middle = (Math.min(before, light[o(j)]!) + low) / 2;
          let wide = 0;
          for (let q = i; q < j; q++) wide += light[o(q)]! < middle ? 1 : 0;
          for (let q = i; q < j; q++) runs[o(q)] = Math.min(runs[o(q)]!, Math.max(1, wide));
        }
        i = Math.max(i + 1, j);
      }
    }
  };
  along(width, height, 1, width);
  along(height, width, width, 1);
  const found = runs.filter((r) => r !== 0xffff);
  const shown = light.reduce((n, L) => n + (Number.isNaN(L) ? 0 : 1), 0);
  if (found.length < shown * LEAST_LINES || found.length < 12) return null;
  return (upperMedian(found) / height) * 100;
}

/** On a picture of half the size, which holds the finest of them. */
function grainOf(light: Float32Array, width: number, height: number): readonly [number, number, number] {
  const small = halved(light, width, height);
  let finer: Float32Array = small.plane;
  return GRAINS.map((size) => {
    const sigma = Math.max(0.6, size * small.height);
    const coarser = blurred(small.plane, small.width, small.height, sigma);
    const middle = middleOf(coarser.map((v, k) => Math.abs(finer[k]! - v)));
    finer = coarser;
    return middle;
  }) as unknown as readonly [number, number, number];
}

function halved(plane: Float32Array, width: number, height: number) {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const o = Math.min(height - 1, y * 2) * width + Math.min(width - 1, x * 2);
      const right = x * 2 + 1 < width ? 1 : 0;
      const below = y * 2 + 1 < height ? width : 0;
      out[y * w + x] = (plane[o]! + plane[o + right]! + plane[o + below]! + plane[o + below + right]!) / 4;
    }
  }
  return { plane: out, width: w, height: h };
}

/** Finer than this the middle of wavering isn't told, CIELAB lightness. */
const FINE = 1 / 64;

/** The middle value, by counting: borders are few and don't move it. What is not a number takes no part. */
function middleOf(values: Float32Array): number {
  const counts = new Int32Array(100 / FINE);
  let whole = 0;
  for (const v of values) {
    if (Number.isNaN(v)) continue;
    counts[Math.min(counts.length - 1, Math.floor(v / FINE))]!++;
    whole++;
  }
  let seen = 0;
  for (let k = 0; k < counts.length; k++) {
    seen += counts[k]!;
    if (seen * 2 >= whole) return whole > 0 ? (k + 0.5) * FINE : 0;
  }
  return 0;
}
