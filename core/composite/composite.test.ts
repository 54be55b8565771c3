import { converter } from 'culori';
import { describe, expect, it } from 'vitest';
import { engineOn } from '../../tests/engines';
import { floor } from '../../tests/shapes';
import type { LayerNode } from '../document';
import { createPlainKernels, createWasmKernels } from '../kernels';
import { adjustKind, NODE_DEFAULTS, type Change } from '../layers';
import { monotoneCurve, seededRandom } from '../math';
import { fromRows, TILE_BYTES } from '../surface';
import { compositeSheet } from '../engine';
import { BLEND_MODES, type BlendMode, type CompositeStep } from '.';

/*
 * Random trees beside a reference that is written from the formulas of W3C Compositing and Blending Level 1 (Recommendation draft of
 * 2015: 5.1 source-over, 9 isolated groups, 10 blending, mixing in 5.9), in 64-bit floats, one texel at a time and by recursion
 * over the tree. It shares no code with what it checks.
 */

type Rgba = readonly [r: number, g: number, b: number, a: number];
type Rgb = [number, number, number];

const CLEAR: Rgba = [0, 0, 0, 0];

const lum = (c: Rgb): number => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];

/** Section 10.2. */
function clipColor(c: Rgb): Rgb {
  const l = lum(c);
  const n = Math.min(...c);
  const x = Math.max(...c);
  let out = c;
  if (n < 0) out = out.map((v) => l + ((v - l) * l) / (l - n)) as Rgb;
  if (x > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (x - l)) as Rgb;
  return out;
}
const setLum = (c: Rgb, l: number): Rgb => clipColor(c.map((v) => v + l - lum(c)) as Rgb);
const sat = (c: Rgb): number => Math.max(...c) - Math.min(...c);
function setSat(c: Rgb, s: number): Rgb {
  const order = [0, 1, 2].sort((a, b) => c[a]! - c[b]!);
  const [min, mid, max] = order as [number, number, number];
  const out: Rgb = [0, 0, 0];
  if (c[max]! > c[min]!) {
    out[mid] = ((c[mid]! - c[min]!) * s) / (c[max]! - c[min]!);
    out[max] = s;
  }
  return out;
}

/** Section 10.1, one channel. */
function channel(mode: BlendMode, cb: number, cs: number): number {
  switch (mode) {
    case 'normal':
      return cs;
    case 'multiply':
      return cb * cs;
    case 'screen':
      return cb + cs - cb * cs;
    case 'overlay':
      return channel('hard-light', cs, cb);
    case 'darken':
      return Math.min(cb, cs);
    case 'lighten':
      return Math.max(cb, cs);
    case 'color-dodge':
      return cb === 0 ? 0 : cs === 1 ? 1 : Math.min(1, cb / (1 - cs));
    case 'color-burn':
      return cb === 1 ? 1 : cs === 0 ? 0 : 1 - Math.min(1, (1 - cb) / cs);
    case 'hard-light':
      return cs <= 0.5 ? channel('multiply', cb, 2 * cs) : channel('screen', cb, 2 * cs - 1);
    case 'soft-light': {
      if (cs <= 0.5) return cb - (1 - 2 * cs) * cb * (1 - cb);
      const d = cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.sqrt(cb);
      return cb + (2 * cs - 1) * (d - cb);
    }
    case 'difference':
      return Math.abs(cb - cs);
    case 'exclusion':
      return cb + cs - 2 * cb * cs;
    default:
      throw new Error(mode);
  }
}

function blended(mode: BlendMode, cb: Rgb, cs: Rgb): Rgb {
  if (mode === 'hue') return setLum(setSat(cs, sat(cb)), lum(cb));
  if (mode === 'saturation') return setLum(setSat(cb, sat(cs)), lum(cb));
  if (mode === 'color') return setLum(cs, lum(cb));
  if (mode === 'luminosity') return setLum(cb, lum(cs));
  return cb.map((v, k) => channel(mode, v, cs[k]!)) as Rgb;
}

const rgb = ([r, g, b]: Rgba): Rgb => [r, g, b];

/** 5.1.1 with 5.9: Cs = (1 - ab) Cs + ab B(Cb, Cs); co = as Cs + ab Cb (1 - as). */
function over(b: Rgba, s: Rgba, mode: BlendMode): Rgba {
  const mixed = blended(mode, rgb(b), rgb(s));
  const a = s[3] + b[3] * (1 - s[3]);
  if (a === 0) return CLEAR;
  const out = [0, 1, 2].map((k) => {
    const c = (1 - b[3]) * s[k]! + b[3] * mixed[k]!;
    return (s[3] * c + b[3] * b[k]! * (1 - s[3])) / a;
  });
  return [out[0]!, out[1]!, out[2]!, a];
}

/** What is clipped sees what is under it as opaque; alpha stays. See docs/decisions/010. */
function clipOver(b: Rgba, s: Rgba, mode: BlendMode): Rgba {
  const opaque = over([b[0], b[1], b[2], 1], s, mode);
  return b[3] === 0 ? CLEAR : [opaque[0], opaque[1], opaque[2], b[3]];
}

/** Between two results, in premultiplied colour: what opacity does to a group that is not isolated. */
function between(b: Rgba, s: Rgba, t: number): Rgba {
  const a = b[3] + (s[3] - b[3]) * t;
  if (a === 0) return CLEAR;
  const out = [0, 1, 2].map((k) => (b[k]! * b[3] + (s[k]! * s[3] - b[k]! * b[3]) * t) / a);
  return [out[0]!, out[1]!, out[2]!, a];
}

type Random = () => number;
const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

/** Colours of each paint layer, a texel each of the first row. */
type Colors = Map<number, readonly Rgba[]>;

const TEXELS = 48;

function randomTree(
  random: Random,
  colors: Colors,
  ids: { next: number },
  nodes: number,
  depth = 0,
): LayerNode[] {
  const out: LayerNode[] = [];
  while (nodes > 0) {
    const base = {
      ...NODE_DEFAULTS,
      mask: [],
      id: ids.next++,
      name: 'N',
      visible: random() < 0.9,
      opacity: random() < 0.3 ? 1 : Math.round(random() * 100) / 100,
      blend: random() < 0.3 ? ('normal' as const) : pick(random, BLEND_MODES),
      clip: random() < 0.3,
    };
    if (depth < 3 && nodes > 2 && random() < 0.3) {
      const inside = 1 + Math.floor(random() * (nodes - 1));
      const layers = randomTree(random, colors, ids, inside, depth + 1);
      out.push({ ...base, kind: 'group', isolated: random() < 0.5, detail: null, layers });
      nodes -= inside + 1;
      continue;
    }
    out.push({ ...base, kind: 'paint' });
    const alphas = [0, 0.2, 0.6, 1, 1];
    const byte = (): number => Math.floor(random() * 256) / 255;
    colors.set(
      base.id,
      Array.from({ length: TEXELS }, (): Rgba => {
        const a = Math.round(pick(random, alphas) * 255) / 255;
        return a === 0 ? CLEAR : [byte(), byte(), byte(), a];
      }),
    );
    nodes--;
  }
  return out;
}

/** A tree's colour at one texel, over a backdrop. */
function reference(tree: readonly LayerNode[], backdrop: Rgba, colors: Colors, texel: number): Rgba {
  let acc = backdrop;
  const own = (node: LayerNode, isolated: boolean): Rgba =>
    node.kind === 'group'
      ? reference(node.layers, isolated ? CLEAR : acc, colors, texel)
      : colors.get(node.id)![texel]!;
  const shows = (node: LayerNode): boolean => node.visible && node.opacity > 0;
  for (let i = 0; i < tree.length; i++) {
    const base = tree[i]!;
    const clipped: LayerNode[] = [];
    while (tree[i + 1]?.clip) clipped.push(tree[++i]!);
    if (!shows(base)) continue;
    const top = clipped.filter(shows);
    if (base.kind === 'group' && !base.isolated && base.blend === 'normal' && top.length === 0) {
      acc = between(acc, own(base, false), base.opacity);
      continue;
    }
    let together = own(base, true);
    for (const node of top) {
      const [r, g, b, a] = own(node, true);
      together = clipOver(together, [r, g, b, a * node.opacity], node.blend);
    }
    acc = over(acc, [together[0], together[1], together[2], together[3] * base.opacity], base.blend);
  }
  return acc;
}

describe('200 random trees beside a float reference written from the W3C formulas', () => {
  it.each([
    ['WebAssembly', createWasmKernels()],
    ['plain TypeScript', createPlainKernels()],
  ])('%s stays within 1/255', (name, kernels) => {
    const random = seededRandom(200);
    let worst = 0;
    let groups = 0;
    for (let n = 0; n < 200; n++) {
      const colors: Colors = new Map();
      const layers = randomTree(random, colors, { next: 1 }, 1 + Math.floor(random() * 20));
      groups += JSON.stringify(layers).split('"group"').length - 1;
      // Half the trees are enough for the plain twin, which is ten times slower.
      if (name !== 'WebAssembly' && n % 4) continue;
      const pixels = [...colors].map(([id, list]) => {
        const rows = new Uint8Array(TILE_BYTES);
        list.forEach((c, i) =>
          rows.set(
            c.map((v) => Math.round(v * 255)),
            i * 4,
          ),
        );
        const bytes = new Uint8Array(TILE_BYTES);
        fromRows(64, new Uint32Array(rows.buffer), new Uint32Array(bytes.buffer));
        return { plane: id, tile: 0, bytes };
      });
      const engine = engineOn(floor(), 64, { layers, nextId: 1000 }, kernels, pixels);
      const out = compositeSheet(engine);
      for (let t = 0; t < TEXELS; t++) {
        const wanted = reference(layers, CLEAR, colors, t);
        const alpha = wanted[3] * 255;
        worst = Math.max(worst, Math.abs(out[t * 4 + 3]! - alpha));
        // The colour of what is almost clear can't be seen, and 8 bits of alpha can't tell it.
        if (alpha < 3) continue;
        for (let k = 0; k < 3; k++) worst = Math.max(worst, Math.abs(out[t * 4 + k]! - wanted[k]! * 255));
      }
    }
    expect(groups).toBeGreaterThan(150);
    expect(worst).toBeLessThanOrEqual(1);
  });
});

describe('what is kept half-way', () => {
  it('gives the same picture as beginning at the bottom, group in group, sub-tile by sub-tile', () => {
    const random = seededRandom(5);
    const tile = (): Uint8Array => Uint8Array.from({ length: TILE_BYTES }, () => Math.floor(random() * 256));
    const lay = (): CompositeStep => ({
      do: 'lay',
      source: { form: 'rgba8', bytes: tile() },
      mode: pick(random, BLEND_MODES),
      opacity: random(),
      mask: Uint16Array.from({ length: TILE_BYTES / 4 }, () => Math.floor(random() * 65536)),
      clip: random() < 0.3,
    });
    const end = { mode: 'multiply', opacity: 0.7, mask: null, clip: false } as const;
    const steps: CompositeStep[] = [
      lay(),
      { do: 'push', through: false },
      lay(),
      { do: 'push', through: true },
      lay(),
      lay(),
      { do: 'pop', through: true, ...end },
      lay(),
      { do: 'pop', through: false, ...end },
      lay(),
    ];
    for (const kernels of [createWasmKernels(), createPlainKernels()]) {
      const whole = new Uint8Array(TILE_BYTES);
      kernels.composite(steps, whole);
      for (let keepAfter = 0; keepAfter <= steps.length; keepAfter++) {
        const first = new Uint8Array(TILE_BYTES);
        const from = kernels.composite(steps, first, { keepAfter });
        expect(first).toEqual(whole);
        const again = new Uint8Array(TILE_BYTES);
        kernels.composite(steps, again, { from, subs: 6 });
        const [low, high] = [TILE_BYTES / 4, (TILE_BYTES / 4) * 3];
        expect(again.slice(low, high)).toEqual(whole.slice(low, high));
        expect(again.slice(0, low).every((b) => b === 0)).toBe(true);
      }
    }
  });
});

describe('changes of colour', () => {
  const through = (change: Change, colors: readonly Rgb[]): Rgb[] => {
    const plane = (k: number): Float32Array => Float32Array.from(colors, (c) => c[k]!);
    const planes = { r: plane(0), g: plane(1), b: plane(2) };
    adjustKind.adjuster({ ...NODE_DEFAULTS, mask: [], kind: 'adjust', id: 1, name: 'A', change })(planes);
    return colors.map((_, i) => [planes.r[i]!, planes.g[i]!, planes.b[i]!]);
  };
  const random = seededRandom(9);
  const many = Array.from({ length: 400 }, (): Rgb => [random(), random(), random()]);

  // culori 4.0.2, an independent implementation of Ottosson's OKLab.
  it('hue, chroma and lightness in OKLCH are those of culori', () => {
    const toOklch = converter('oklch');
    const toRgb = converter('rgb');
    const change = { by: 'oklch', hue: 40, chroma: 0.7, lightness: 0.05 } as const;
    through(change, many).forEach((ours, i) => {
      const [r, g, b] = many[i]!;
      const { l, c, h = 0 } = toOklch({ mode: 'rgb', r, g, b });
      const theirs = toRgb({ mode: 'oklch', l: l + 0.05, c: c * 0.7, h: h + 40 });
      [theirs.r, theirs.g, theirs.b].forEach((v, k) =>
        expect(Math.abs(ours[k]! - Math.min(1, Math.max(0, v)))).toBeLessThan(1e-4),
      );
    });
  });

  it('changes that change nothing change nothing', () => {
    for (const change of [
      { by: 'oklch', hue: 0, chroma: 1, lightness: 0 },
      { by: 'levels', low: 0, high: 1, gamma: 1, outLow: 0, outHigh: 1 },
      {
        by: 'curve',
        points: [
          [0, 0],
          [0.4, 0.4],
          [1, 1],
        ],
      },
    ] satisfies Change[]) {
      through(change, many).forEach((c, i) =>
        c.forEach((v, k) => expect(Math.abs(v - many[i]![k]!)).toBeLessThan(1e-4)),
      );
    }
  });

  it('levels map the dark and the light end and bend between them', () => {
    const change = { by: 'levels', low: 0.2, high: 0.6, gamma: 2, outLow: 0.1, outHigh: 0.9 } as const;
    const grey = (v: number): number => through(change, [[v, v, v]])[0]![0];
    expect(grey(0.1)).toBeCloseTo(0.1, 3);
    expect(grey(0.8)).toBeCloseTo(0.9, 3);
    expect(grey(0.4)).toBeCloseTo(0.1 + 0.8 * Math.SQRT1_2, 3);
  });

  it('a ramp gives its colours at its stops: OKLab lightness of the colour below chooses', () => {
    const stops = [
      { at: 0, color: '#200040' },
      { at: 0.5, color: '#ff8000' },
      { at: 1, color: '#ffffff' },
    ];
    const [dark, light] = through({ by: 'ramp', stops }, [
      [0, 0, 0],
      [1, 1, 1],
    ]);
    expect(dark!.map((v) => Math.round(v * 255))).toEqual([0x20, 0, 0x40]);
    expect(light!.map((v) => Math.round(v * 255))).toEqual([255, 255, 255]);
  });

  // Fritsch and Carlson 1980: the interpolant is monotone wherever the data are.
  it('a curve goes through its points and never swings beyond them', () => {
    for (let n = 0; n < 50; n++) {
      const xs = Array.from({ length: 6 }, () => random()).sort((a, b) => a - b);
      const points = xs.map((x): [number, number] => [x, random()]);
      const curve = monotoneCurve(points);
      for (const [x, y] of points) expect(curve(x)).toBeCloseTo(y, 9);
      for (let i = 0; i < points.length - 1; i++) {
        const [a, b] = [points[i]!, points[i + 1]!];
        for (let t = 0; t <= 1; t += 0.05) {
          const y = curve(a[0] + (b[0] - a[0]) * t);
          expect(y).toBeGreaterThanOrEqual(Math.min(a[1], b[1]) - 1e-9);
          expect(y).toBeLessThanOrEqual(Math.max(a[1], b[1]) + 1e-9);
        }
      }
    }
  });
});
