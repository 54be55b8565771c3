import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL, PAINT } from '../../tests/engines';
import { ball, seamedFloor } from '../../tests/shapes';
import { PLAIN_STROKE } from '../../tests/strokes';
import { measureCue } from '../cues';
import { coarseSurface, texelIndex, texelPosition, TILE_BYTES, TILE_TEXELS } from '../surface';
import { compositeSheet, type Engine } from '../engine';
import { NODE_DEFAULTS, PLAIN_LEVELS } from '../layers';

const SIZE = 512;

/** A ball with a light, a wash through a height cue, and a stroke. */
function litBall(): Engine {
  const engine = engineOn(ball(), SIZE);
  const light = engine.document.lights[0]!.id;
  engine.apply({
    do: 'add-layer',
    layer: { ...NODE_DEFAULTS, mask: [], kind: 'light', name: 'Light', light, blend: 'soft-light' },
    into: null,
    at: 1,
  });
  engine.apply({
    do: 'add-layer',
    layer: {
      ...NODE_DEFAULTS,
      kind: 'wash',
      name: 'Low',
      color: '#402050',
      blend: 'multiply',
      mask: [
        {
          from: 'cue',
          join: 'multiply',
          levels: PLAIN_LEVELS,
          invert: true,
          cue: { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 },
        },
      ],
    },
    into: null,
    at: 1,
  });
  for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
  return engine;
}

const paint = (engine: Engine): void =>
  void engine.apply({
    do: 'stroke',
    layer: PAINT,
    guard: null,
    stroke: {
      ...PLAIN_STROKE,
      color: '#20c040',
      runs: [[0, 0, 1, 0, 0, 1, 0.4, 1, 0.6, 0, 0.8, 0.6, 0, 0.8, 0.4, 1]],
    },
  });

/** How far the coarse picture is from every fourth texel of the full one: most of 255, over all texels of the surface. */
function mostApart(engine: Engine): number {
  const full = compositeSheet(engine);
  const coarse = engine.coarse!;
  const map = coarseSurface(engine.surface)!.map;
  const size = map.sheets[0]!.size;
  const step = SIZE / size;
  let most = 0;
  const out = new Uint8Array(TILE_BYTES);
  map.slotOfTile.forEach((slot, tile) => {
    if (slot < 0) return;
    coarse.render(tile, out);
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (map.codes[slot * TILE_TEXELS + i]! < 0) continue;
      const [x, y] = texelPosition(size, tile * TILE_TEXELS + i);
      const o = ((y * step + step / 2) * SIZE + x * step + step / 2) * 4;
      for (let k = 0; k < 4; k++) most = Math.max(most, Math.abs(full[o + k]! - out[i * 4 + k]!));
    }
  });
  return most;
}

describe('the picture with few texels', () => {
  it('is the full one at every fourth texel, but for places reckoned half a texel off', () => {
    const engine = litBall();
    engine.coarse!.dirty();
    expect(mostApart(engine)).toBeLessThanOrEqual(3);
  });

  it('follows commands, previews, strokes, undo and cues that grow finer', () => {
    const engine = litBall();
    engine.coarse!.dirty();
    paint(engine);
    expect(engine.coarse!.dirty().length).toBeGreaterThan(0);
    expect(mostApart(engine)).toBeLessThanOrEqual(3);
    engine.apply(
      { do: 'patch-light', light: engine.document.lights[0]!.id, patch: { key: { direction: [1, 0, 0] } } },
      'a drag',
    );
    expect(mostApart(engine)).toBeLessThanOrEqual(3);
    engine.undo();
    engine.undo();
    expect(mostApart(engine)).toBeLessThanOrEqual(3);
    const [spec] = engine.wantedCues();
    const tile = engine.surface.slotOfTile.findIndex((slot) => slot >= 0);
    engine.refineCue(spec!, [{ tile, values: new Uint16Array(TILE_TEXELS).fill(65535) }]);
    engine.coarse!.dirty();
    expect(mostApart(engine)).toBeLessThanOrEqual(3);
    const before = new Uint8Array(TILE_BYTES);
    engine.coarse!.render(engine.coarse!.dirty()[0] ?? 0, before);
    engine.preview(LOCAL, { visible: false });
    expect(engine.coarse!.dirty().length).toBeGreaterThan(0);
    engine.preview(LOCAL, null);
    expect(mostApart(engine)).toBeLessThanOrEqual(3);
  });

  it('follows what is shown alone', () => {
    const engine = litBall();
    const texel = (): number[] => {
      const out = new Uint8Array(TILE_BYTES);
      const map = coarseSurface(engine.surface)!.map;
      const tile = map.slotOfTile.findIndex((slot) => slot >= 0);
      engine.coarse!.render(tile, out);
      const i = map.codes.findIndex((code) => code >= 0) % TILE_TEXELS;
      return [...out.subarray(i * 4, i * 4 + 4)];
    };
    const whole = texel();
    engine.setView({ alone: PAINT, maskOf: null, detail: null });
    expect(texel()).toEqual([0, 0, 0, 0]);
    engine.setView({ alone: null, maskOf: null, detail: null });
    expect(texel()).toEqual(whole);
  });

  it('isn’t to be had for small sheets, where nothing would be gained', () => {
    expect(engineOn(seamedFloor(), 128).coarse).toBeNull();
    expect(engineOn(seamedFloor(), 256).coarse).not.toBeNull();
  });

  it('takes its texels from all over: each lies where the full surface has it', () => {
    const { surface } = engineOn(seamedFloor(), SIZE);
    const { map, stride, coarseTile } = coarseSurface(surface)!;
    expect(stride).toBe(4);
    expect(coarseTile(0)).toBe(0);
    expect(coarseTile(texelIndex(SIZE, 400, 300) >> 12)).toBe(texelIndex(128, 100, 75) >> 12);
    for (let n = 0; n < 128 * 128; n += 97) {
      const [x, y] = texelPosition(128, n);
      const fine = texelIndex(SIZE, x * 4 + 2, y * 4 + 2);
      const codeOf = (m: typeof map, at: number): number => {
        const slot = m.slotOfTile[at >> 12]!;
        return slot < 0 ? -1 : m.codes[slot * TILE_TEXELS + (at & 4095)]!;
      };
      expect(codeOf(map, n)).toBe(codeOf(surface, fine));
    }
  });
});
