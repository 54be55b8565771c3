import { describe, expect, it } from 'vitest';
import { ball, seamedFloor } from '../../tests/shapes';
import { measureCue } from '../cues';
import { createWasmKernels } from '../kernels';
import { lightPlan } from '../light';
import { faceAt, texelIndex, TILE_BYTES, tileCount } from '../surface';
import { compositeSheet } from '../engine';
import { NODE_DEFAULTS } from '../layers';
import type { LayerNode } from '../document';
import type { NewLayer } from '../commands';
import { LOCAL, PAINT, watchedEngine } from '../../tests/engines';
import { line, SOFT_STROKE } from '../../tests/strokes';

describe('the build-up', () => {
  const wash: NewLayer = {
    kind: 'wash',
    name: 'Ground',
    opacity: 0.5,
    blend: 'multiply',
    color: '#203040',
    mask: [
      {
        from: 'cue',
        join: 'multiply',
        cue: { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 },
        levels: { low: 0, high: 1, gamma: 1 },
        invert: true,
      },
    ],
  };

  it('asks for the cues it needs, and follows them', () => {
    const { engine } = watchedEngine(ball());
    engine.apply({ do: 'add-layer', layer: wash, at: 1 });
    expect(engine.missingCues()).toEqual([{ cue: 'height', direction: [0, 1, 0], from: 0, to: 1 }]);
    const before = compositeSheet(engine);
    for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
    expect(engine.missingCues()).toEqual([]);
    const after = compositeSheet(engine);
    // v = 1 is the top of the ball: untouched; the bottom is darkened to (1 + colour) / 2.
    const at = (x: number, y: number): number => (y * 128 + x) * 4;
    expect(Math.abs(after[at(64, 4)]! - before[at(64, 4)]!)).toBeLessThanOrEqual(2);
    const expected = 0xb6 * (0.5 + (0.5 * 0x20) / 255);
    expect(Math.abs(after[at(64, 123)]! - expected)).toBeLessThanOrEqual(3);
  });

  it('shows a layer alone, and its mask alone, without changing what is delivered', () => {
    const { engine } = watchedEngine(ball());
    engine.apply({ do: 'add-layer', layer: wash, at: 1 });
    for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
    const delivered = compositeSheet(engine);
    const tile = new Uint8Array(TILE_BYTES);
    engine.setView({ alone: null, maskOf: 3, detail: null });
    engine.renderTile(0, tile);
    const inside = [...Array(4096).keys()].find((i) => faceAt(engine.surface, i) >= 0)! * 4;
    expect(tile[inside]).toBe(tile[inside + 1]);
    expect(tile[inside + 3]).toBe(255);
    engine.setView({ alone: 3, maskOf: null, detail: null });
    engine.renderTile(0, tile);
    expect([tile[inside], tile[inside + 1], tile[inside + 2]]).toEqual([0x20, 0x30, 0x40]);
    expect(compositeSheet(engine)).toEqual(delivered);
  });

  it('only what changed is out of date', () => {
    const { engine } = watchedEngine(seamedFloor(), 256);
    const tile = new Uint8Array(TILE_BYTES);
    for (const t of engine.dirty()) engine.renderTile(t, tile);
    expect(engine.dirty()).toEqual([]);
    engine.apply({ do: 'add-swatches', swatches: [{ name: 'Red', color: '#ff0000' }] });
    expect(engine.dirty()).toEqual([]);
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { name: 'Ground colours' } });
    expect(engine.dirty()).toEqual([]);
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, runs: [line([-0.8, 0, 0.8], [-0.7, 0, 0.8], 0.05)] },
    });
    expect(engine.dirty().length).toBeGreaterThan(0);
    expect(engine.dirty().length).toBeLessThan(tileCount(256) / 2);
  });

  it('refuses commands that make no sense and changes nothing', () => {
    const { engine } = watchedEngine(seamedFloor());
    const before = engine.document;
    expect(() => engine.apply({ do: 'remove-layers', layers: [77] })).toThrow(/no longer there/);
    expect(() => engine.apply({ do: 'rename-project', name: '' })).toThrow(
      expect.objectContaining({ code: 'bad-argument' }),
    );
    expect(() => engine.apply({ do: 'patch-layer', layer: PAINT, patch: { color: '#ffffff' } })).toThrow(
      /“Paint” has no setting “color”/,
    );
    expect(() => engine.apply({ do: 'patch-layer', layer: PAINT, patch: { opacity: 3 } })).toThrow(/opacity/);
    expect(engine.document).toBe(before);
    expect(engine.history.done).toBe(0);
  });

  it('light alone is what the plan says: half sky on a wall, all of it on a floor', () => {
    const mesh = seamedFloor();
    const light = lightPlan.parse({
      key: { direction: [0, 1, 0], color: '#000000', strength: 0, wrap: 0 },
      sky: { color: '#c86432', strength: 1 },
      ground: { color: '#000000', strength: 1 },
    });
    const layers: LayerNode[] = [
      { ...NODE_DEFAULTS, mask: [], kind: 'light', id: 1, name: 'Light', light: 0 },
    ];
    const lights = [{ id: 0, name: 'Sky', plan: light }];
    const { engine } = watchedEngine(mesh, 128, createWasmKernels(), { lights, layers });
    expect(engine.colorAt(texelIndex(128, 28, 77))).toEqual({ r: 0xc8, g: 0x64, b: 0x32, a: 255 });
    const wall = { ...mesh, normals: mesh.normals.map((_, i) => (i % 3 === 0 ? 1 : 0)) };
    const { engine: onWall } = watchedEngine(wall, 128, createWasmKernels(), { lights, layers });
    expect(onWall.colorAt(texelIndex(128, 28, 77))).toEqual({ r: 0x64, g: 0x32, b: 0x19, a: 255 });
  });
});
