import type { Picture } from '../core/formats';
import { hexToRgb } from '../core/color';
import { r2Sequence } from '../core/math';

/** Patterns that repeat at all sides, drawn by code. */
const SIDE = 256;

type Color = readonly [number, number, number];

const color = (hex: string): Color => {
  const { r, g, b } = hexToRgb(hex);
  return [r, g, b];
};
const mixed = (a: Color, b: Color, t: number): Color =>
  [0, 1, 2].map((k) => a[k]! + (b[k]! - a[k]!) * t) as never;
const step = (low: number, high: number, x: number): number => {
  const t = Math.min(1, Math.max(0, (x - low) / (high - low)));
  return t * t * (3 - 2 * t);
};
/** 0..1, the same for the same number. */
const chance = (n: number): number => {
  const x = Math.sin(n * 127.1 + 311.7) * 43758.5453;
  return x - Math.floor(x);
};

/** @param at 0..1 each way, to the right and down */
function drawn(at: (u: number, v: number) => Color): Picture {
  const rgba = new Uint8Array(SIDE * SIDE * 4);
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      const c = at((x + 0.5) / SIDE, (y + 0.5) / SIDE);
      const o = (y * SIDE + x) * 4;
      for (let k = 0; k < 3; k++) rgba[o + k] = Math.round(Math.min(255, Math.max(0, c[k]!)));
      rgba[o + 3] = 255;
    }
  }
  return { width: SIDE, height: SIDE, rgba };
}

/** Waves that repeat over the unit square. */
const clouds = (u: number, v: number, seed: number): number => {
  let sum = 0;
  for (let k = 0; k < 9; k++) {
    const [a, b] = [1 + Math.floor(chance(seed + k) * 5), Math.floor(chance(seed + k + 50) * 9) - 4];
    sum += Math.sin((u * a + v * b + chance(seed + k + 90)) * 2 * Math.PI) / (1 + k * 0.35);
  }
  return 0.5 + sum / 7;
};

/** A signed distance across the edges of the unit square. */
const near = (d: number): number => d - Math.round(d);

interface Dab {
  readonly x: number;
  readonly y: number;
  readonly cos: number;
  readonly sin: number;
  readonly long: number;
  readonly wide: number;
  readonly n: number;
}

function dabs(count: number, turn: (n: number) => number, long: number, wide: number): Dab[] {
  const places = r2Sequence(count);
  return Array.from({ length: count }, (_, n) => {
    const a = turn(n);
    return {
      x: places[n * 2]!,
      y: places[n * 2 + 1]!,
      cos: Math.cos(a),
      sin: Math.sin(a),
      long: long * (0.7 + 0.6 * chance(n + 0.3)),
      wide: wide * (0.7 + 0.6 * chance(n + 0.6)),
      n,
    };
  });
}

/** The topmost dab at a place, and where in it: along and across, -1..1. */
function topmost(
  all: readonly Dab[],
  u: number,
  v: number,
): { dab: Dab; along: number; across: number } | null {
  for (let i = all.length - 1; i >= 0; i--) {
    const dab = all[i]!;
    const [dx, dy] = [near(u - dab.x), near(v - dab.y)];
    const along = (dx * dab.cos + dy * dab.sin) / dab.long;
    const across = (dy * dab.cos - dx * dab.sin) / dab.wide;
    if (along * along + across * across < 1) return { dab, along, across };
  }
  return null;
}

function brushDabs(): Picture {
  const all = dabs(240, (n) => 0.5 + (chance(n) - 0.5) * 0.9, 0.13, 0.035);
  const [dark, light] = [color('#7f7a74'), color('#e9e2d6')];
  return drawn((u, v) => {
    const hit = topmost(all, u, v);
    if (!hit) return mixed(dark, light, 0.35);
    const hairs = 0.5 + 0.5 * Math.sin(hit.across * 14 + chance(hit.dab.n) * 9 + Math.sin(hit.along * 3));
    return mixed(dark, light, 0.15 + 0.7 * chance(hit.dab.n + 7) + 0.12 * hairs - 0.1 * Math.abs(hit.along));
  });
}

function linen(): Picture {
  const [gap, thread, shine] = [color('#6d6252'), color('#c4b395'), color('#efe3c8')];
  const threads = 12;
  return drawn((u, v) => {
    const [x, y] = [u * threads, v * threads];
    const [column, row] = [Math.floor(x), Math.floor(y)];
    const over = (column + row) % 2 === 0;
    // The thread on top bulges along its own way and is round across it.
    const [along, across] = over ? [y - row, x - column] : [x - column, y - row];
    const round = Math.sqrt(Math.max(0, 1 - (2 * across - 1) ** 2));
    const bulge = Math.sin(Math.PI * along);
    const uneven = 0.12 * (chance((over ? column : row + 100) * 3.1) - 0.5);
    const t = round * (0.3 + 0.7 * bulge) * (over ? 1 : 0.82) + uneven;
    return t < 0.55 ? mixed(gap, thread, t / 0.55) : mixed(thread, shine, (t - 0.55) / 0.45);
  });
}

function planks(): Picture {
  const [gap, dark, light] = [color('#33231d'), color('#8a5a3c'), color('#d39b66')];
  const count = 4;
  return drawn((u, v) => {
    const plank = Math.floor(v * count);
    const y = v * count - plank;
    const shift = chance(plank + 0.7);
    const x = u + shift;
    const end = Math.abs(near(x));
    const knotX = near(x - 0.3 - 0.3 * chance(plank + 3));
    const knotY = (y - 0.35 - 0.3 * chance(plank + 5)) / count;
    const knot = Math.exp(-(knotX * knotX + knotY * knotY * 9) * 260);
    const rings = y * 9 + 0.9 * clouds(x, y / 4, plank * 7) + knot * 5;
    const grain = 0.5 + 0.5 * Math.sin(rings * 2 * Math.PI);
    const wood = mixed(
      dark,
      light,
      0.25 + 0.45 * grain * (0.5 + 0.5 * chance(plank + 11)) + 0.25 * chance(plank) - 0.5 * knot,
    );
    const edge = Math.min(step(0, 0.07, y), step(0, 0.07, 1 - y), step(0, 0.012, end));
    return mixed(gap, wood, edge);
  });
}

function fishScales(): Picture {
  const [deep, middle, light] = [color('#1f4f5c'), color('#3f8f95'), color('#b9e0cf')];
  const across = 6;
  const rows = 12;
  return drawn((u, v) => {
    // Each row hangs over the one beneath it: the highest that reaches here is seen.
    for (let row = Math.floor(v * rows) - 1; row <= v * rows; row++) {
      const x = u * across + (((row % 2) + 2) % 2) / 2;
      const dx = (x - Math.floor(x) - 0.5) * 2;
      const dy = (v * rows - row) / 1.9;
      const d = Math.hypot(dx, dy);
      if (d > 1) continue;
      const which = ((Math.floor(x) % across) + across) % across;
      const hue = 0.25 * chance(which + ((row + rows) % rows) * 17);
      const shade = mixed(deep, middle, step(0.1, 1, d) * 0.8 + hue);
      return mixed(shade, light, step(0.72, 0.96, d) * 0.75);
    }
    return deep;
  });
}

function pebbles(): Picture {
  const [gap, dark, light] = [color('#3d3a42'), color('#7d7a7f'), color('#d8d2c6')];
  const places = r2Sequence(60);
  const points = Array.from(
    { length: 60 },
    (_, n) => [places[n * 2]! + 0.06 * chance(n), places[n * 2 + 1]! + 0.06 * chance(n + 99)] as const,
  );
  return drawn((u, v) => {
    const bent = 0.012 * (clouds(u, v, 4) - 0.5);
    const all = points
      .map(([x, y], n) => ({ n, d: Math.hypot(near(u + bent - x), near(v - bent - y)) }))
      .sort((a, b) => a.d - b.d);
    const border = all[1]!.d - all[0]!.d;
    const stone = mixed(dark, light, 0.25 + 0.5 * chance(all[0]!.n) + 0.25 * step(0.01, 0.06, border));
    return mixed(gap, stone, step(0.004, 0.02, border));
  });
}

function leaves(): Picture {
  const all = dabs(90, (n) => chance(n) * 2 * Math.PI, 0.1, 0.04);
  const [ground, dark, light] = [color('#2f4a34'), color('#4f7a42'), color('#a9c46a')];
  return drawn((u, v) => {
    const hit = topmost(all, u, v);
    if (!hit) return ground;
    const { along, across, dab } = hit;
    // Pointed at both ends.
    if (Math.abs(across) > 1 - along * along) return ground;
    const rib = 1 - step(0.04, 0.12, Math.abs(across));
    const veins = 0.5 + 0.5 * Math.sin((along * 7 - Math.abs(across) * 4) * Math.PI);
    return mixed(
      dark,
      light,
      0.1 + 0.55 * chance(dab.n + 4) + 0.3 * rib + 0.12 * veins + (across > 0 ? 0.08 : 0),
    );
  });
}

/** By the name of their files. */
export const PATTERNS: Readonly<Record<string, { readonly title: string; readonly draw: () => Picture }>> = {
  dabs: { title: 'Brush dabs', draw: brushDabs },
  linen: { title: 'Linen', draw: linen },
  planks: { title: 'Planks', draw: planks },
  scales: { title: 'Fish scales', draw: fishScales },
  pebbles: { title: 'Pebbles', draw: pebbles },
  leaves: { title: 'Leaves', draw: leaves },
};
