import { BALL_BRUSH } from '../../tests/strokes';
import { describe, expect, it } from 'vitest';
import { ball, plate } from '../../tests/shapes';
import { seededRandom } from '../math';
import { BLEND_MODES, blend, type BlendMode, type CompositeStep } from '../composite';
import { StrokeRasterizer } from '../paint';
import { measureSurface, SUB_TEXELS, TILE_BYTES, type SurfaceMap } from '../surface';
import { regionShape } from '../region';
import { createPlainKernels, createWasmKernels, type Kernels } from '.';

const plain = createPlainKernels();
const wasm = createWasmKernels();

function randomTile(seed: number, alphas: readonly number[]): Uint8Array {
  const random = seededRandom(seed);
  return Uint8Array.from({ length: TILE_BYTES }, (_, i) =>
    i % 4 === 3 ? alphas[Math.floor(random() * alphas.length)]! : Math.floor(random() * 256),
  );
}

/** Largest difference of two tiles; where both are almost clear their colour can't be seen and doesn't count. */
function difference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let worst = 0;
  for (let i = 0; i < a.length; i++) {
    if (i % 4 !== 3 && a[i | 3]! < 3) continue;
    worst = Math.max(worst, Math.abs(a[i]! - b[i]!));
  }
  return worst;
}

interface Flat {
  readonly tile: Uint8Array;
  readonly mode: BlendMode;
  readonly opacity: number;
}

const stepsOf = (layers: readonly Flat[]): CompositeStep[] =>
  layers.map(({ tile, mode, opacity }) => ({
    do: 'lay',
    source: { form: 'rgba8', bytes: tile },
    mode,
    opacity,
    mask: null,
    clip: false,
  }));

/** A float composite of 8-bit layers, never rounded in between. */
function reference(layers: readonly Flat[]): Float64Array {
  const out = new Float64Array(TILE_BYTES);
  for (let i = 0; i < TILE_BYTES; i += 4) {
    let a = 0;
    let c: [number, number, number] = [0, 0, 0];
    for (const { tile, mode, opacity } of layers) {
      const sa = (tile[i + 3]! / 255) * opacity;
      const cs: [number, number, number] = [tile[i]! / 255, tile[i + 1]! / 255, tile[i + 2]! / 255];
      const b = blend(mode, c, cs);
      const ao = sa + a - sa * a;
      if (ao > 0) {
        c = c.map((cb, k) => ((1 - sa) * a * cb + sa * ((1 - a) * cs[k]! + a * b[k]!)) / ao) as typeof c;
      }
      a = ao;
    }
    out.set([...c.map((x) => x * 255), a * 255], i);
  }
  return out;
}

describe.each([
  ['plain TypeScript', plain],
  ['WebAssembly', wasm],
] as const)('compositing in %s', (_name, kernels: Kernels) => {
  it.each(BLEND_MODES)('%s stays within 1/255 of a float reference, whatever the alphas', (mode) => {
    const layers = [
      { tile: randomTile(1, [0, 3, 128, 200, 255]), mode: 'normal' as const, opacity: 1 },
      { tile: randomTile(2, [0, 60, 255]), mode, opacity: 0.7 },
      { tile: randomTile(3, [0, 90, 255]), mode, opacity: 1 },
    ];
    const out = new Uint8Array(TILE_BYTES);
    kernels.composite(stepsOf(layers), out);
    const exact = reference(layers);
    expect(difference(exact, out)).toBeLessThanOrEqual(1);
  });

  it('ten layers of every kind stay within 1/255', () => {
    const layers = BLEND_MODES.slice(0, 10).map((mode, i) => ({
      tile: randomTile(10 + i, i === 0 ? [255] : [0, 40, 128, 255]),
      mode,
      opacity: 0.3 + 0.07 * i,
    }));
    const out = new Uint8Array(TILE_BYTES);
    kernels.composite(stepsOf(layers), out);
    const exact = reference(layers);
    expect(difference(exact, out)).toBeLessThanOrEqual(1);
  });

  it('an opaque layer comes out as it went in, to the last bit', () => {
    const tile = randomTile(5, [255]);
    const out = new Uint8Array(TILE_BYTES);
    kernels.composite(stepsOf([{ tile, mode: 'normal', opacity: 1 }]), out);
    expect(out).toEqual(tile);
  });

  it('nothing makes nothing', () => {
    const out = new Uint8Array(TILE_BYTES).fill(7);
    kernels.composite([], out);
    expect(out.every((b) => b === 0)).toBe(true);
  });
});

describe('WebAssembly beside its plain twin', () => {
  it('composites more layers than it had room for', () => {
    const layers = Array.from({ length: 40 }, (_, i) => ({
      tile: randomTile(i, [20, 90]),
      mode: BLEND_MODES[i % 16]!,
      opacity: 0.9,
    }));
    const a = new Uint8Array(TILE_BYTES);
    const b = new Uint8Array(TILE_BYTES);
    plain.composite(stepsOf(layers), a);
    wasm.composite(stepsOf(layers), b);
    expect(difference(a, b)).toBeLessThanOrEqual(1);
  });

  const surfaces: readonly (readonly [string, SurfaceMap])[] = [
    ['a ball', measureSurface(ball(), 256)],
    ['a thin plate', measureSurface(plate(0.05, 'Under'), 256)],
  ];

  it.each(surfaces)('lays the same dabs on %s, with and without a guard', (_name, surface) => {
    const a = new StrokeRasterizer(surface, plain);
    const b = new StrokeRasterizer(surface, wasm);
    const random = seededRandom(11);
    let covered = 0;
    const odd = [...surface.mesh.faceParts.keys()].filter((f) => f % 2 === 1);
    for (const guard of [null, regionShape(surface, { faces: odd, cuts: [] })]) {
      a.begin(guard, BALL_BRUSH);
      b.begin(guard, BALL_BRUSH);
      for (let i = 0; i < 40; i++) {
        const d = [random() - 0.5, random() - 0.5, random() - 0.5];
        const l = Math.hypot(...d);
        const n = [d[0]! / l, d[1]! / l, d[2]! / l] as const;
        const radius = 0.05 + random() * 0.5;
        const dab = {
          x: n[0],
          y: n[1],
          z: n[2],
          radius,
          inner: radius * random() * 0.9,
          strength: random(),
          normal: n,
          along: [0, 0, 0] as const,
          flipped: false,
          shade: 0,
          move: null,
          facing: i % 3 ? n : null,
        };
        const [touchedA, touchedB] = [new Set<number>(), new Set<number>()];
        a.dab(0, dab, touchedA);
        b.dab(0, dab, touchedB);
        expect([...touchedB]).toEqual([...touchedA]);
      }
      for (let sub = 0; sub < surface.slotOfTile.length * 4; sub++) {
        const [x, y] = [a.coverage(sub), b.coverage(sub)];
        expect(x === null).toBe(y === null);
        x?.forEach((v, i) => {
          expect(Math.abs(v - y![i]!)).toBeLessThan(1e-4);
          covered = Math.max(covered, v);
        });
      }
    }
    expect(covered).toBeGreaterThan(0.5);
  });

  it.each([
    [false, false],
    [true, false],
    [false, true],
    [true, true],
  ])('lays strokes alike (erase: %s, alpha kept: %s)', (erase, keepAlpha) => {
    const random = seededRandom(4);
    const coverage = [0, 1, 2, 3].map((k) =>
      k === 2
        ? null
        : Float32Array.from({ length: SUB_TEXELS }, () => (random() < 0.2 ? 0 : Math.fround(random()))),
    );
    const before = randomTile(6, [0, 1, 80, 254, 255]);
    const outA = new Uint8Array(TILE_BYTES);
    const outB = new Uint8Array(TILE_BYTES);
    const paint = { color: { r: 200, g: 17, b: 90 }, opacity: 0.65, erase, keepAlpha };
    plain.stroke(before, coverage, outA, paint);
    wasm.stroke(before, coverage, outB, paint);
    expect(difference(outA, outB)).toBeLessThanOrEqual(1);
    if (keepAlpha) for (let i = 3; i < TILE_BYTES; i += 4) expect(outB[i]).toBe(before[i]);
    expect(outB).not.toEqual(keepAlpha && erase ? null : before);
  });

  it('refuses a raster that other kernels made', () => {
    const slot = plain.slot();
    expect(() =>
      wasm.dab(slot, {
        x: 0,
        y: 0,
        z: 0,
        radius: 1,
        inner: 0,
        strength: 1,
        normal: [0, 1, 0],
        along: [1, 0, 0],
        flipped: false,
        shade: 0,
        move: null,
        facing: null,
      }),
    ).toThrow(/other kernels/);
  });
});
