import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, LOCAL, modelOf } from '../../tests/engines';
import { lineThrough } from '../../tests/ink';
import { floor, seamedFloor } from '../../tests/shapes';
import { cueSpec } from '../cues';
import { usualInk, type InkLine } from '../ink';
import { contentHash } from '../math';
import { placeMesh, placingOf } from '../mesh';
import { moveFaces, sheetMove } from '../unwrap';
import { TILE_BYTES } from '../surface';
import { compositeSheet } from './pictures/flatten';
import type { Engine } from './engine';

const across = (z: number, more: Partial<InkLine> = {}): InkLine =>
  lineThrough(
    [
      [-0.8, 0, z],
      [0.8, 0, z],
    ],
    { width: 0.05 },
    more,
  );

/** An engine with an ink layer over its local colours, all of it composited. */
function inkOn(mesh = floor(), size: 256 | 512 = 256): { readonly engine: Engine; readonly layer: number } {
  const engine = engineOn(mesh, size);
  const done = engine.apply({
    do: 'add-layer',
    layer: { kind: 'ink', name: 'Ink' },
    into: null,
    at: engine.document.layers.length,
  });
  settle(engine);
  return { engine, layer: done.ids[0]! };
}

/** Composites what is out of date. @returns the tiles that were */
function settle(engine: Engine): number[] {
  const out = new Uint8Array(TILE_BYTES);
  const tiles = [...engine.dirty()];
  for (const tile of tiles) engine.renderTile(tile, out);
  return tiles;
}

const picture = (engine: Engine): string => contentHash(compositeSheet(engine));

const put = (line: InkLine): InkLine & { readonly id: never } => ({ ...line, id: null as never });
const linesOf = (engine: Engine, layer: number): readonly InkLine[] => {
  const node = engine.document.layers.find((n) => n.id === layer);
  return node?.kind === 'ink' ? node.lines : [];
};

describe('an ink layer', () => {
  it('holds lines that are drawn, changed and removed; every step is taken back to the last texel', () => {
    const { engine, layer } = inkOn();
    const states = [picture(engine)];
    const { ids } = engine.apply({ do: 'edit-ink', layer, put: [put(across(-0.5)), put(across(0.5))] });
    expect(ids).toEqual([0, 1]);
    states.push(picture(engine));
    engine.apply({ do: 'edit-ink', layer, put: [{ ...across(0.1), id: 1 }] });
    states.push(picture(engine));
    engine.apply({ do: 'edit-ink', layer, remove: [0] });
    states.push(picture(engine));
    expect(new Set(states).size).toBe(4);
    for (const state of states.slice(0, -1).toReversed()) {
      engine.undo();
      expect(picture(engine)).toBe(state);
    }
    for (const state of states.slice(1)) {
      engine.redo();
      expect(picture(engine)).toBe(state);
    }
    expect(engine.history.labels).toEqual(
      expect.arrayContaining(['Draw 2 lines', 'Change a line', 'Remove a line']),
    );
  });

  it('only tiles that a changed line touches are made anew', () => {
    const { engine, layer } = inkOn(floor(), 512);
    engine.apply({ do: 'edit-ink', layer, put: [put(across(-0.8)), put(across(0.8))] });
    settle(engine);
    engine.apply({ do: 'edit-ink', layer, put: [{ ...across(0.7), id: 1 }] });
    const rows = new Set(settle(engine).map((tile) => Math.floor(tile / 8)));
    // The second line lies in the lowest rows of tiles.
    expect([...rows].every((row) => row >= 6)).toBe(true);
    // As if all had been made anew.
    const fresh = inkOn(floor(), 512);
    fresh.engine.apply({ do: 'edit-ink', layer: fresh.layer, put: [put(across(-0.8)), put(across(0.7))] });
    expect(picture(engine)).toBe(picture(fresh.engine));
    // Which of them lies over the other is part of the picture, too.
    const upright = lineThrough(
      [
        [0, 0, -0.9],
        [0, 0, 0.9],
      ],
      { color: '#ff0000', width: 0.05 },
    );
    const { ids } = engine.apply({ do: 'edit-ink', layer, put: [put(upright)] });
    const before = picture(engine);
    const lines = linesOf(engine, layer);
    engine.apply({ do: 'patch-layer', layer, patch: { lines: [lines[2]!, lines[0]!, lines[1]!] } });
    expect(ids).toEqual([2]);
    expect(picture(engine)).not.toBe(before);
  });

  it('lays points onto the surface, and tells what can’t be done', () => {
    const { engine, layer } = inkOn();
    engine.apply({
      do: 'edit-ink',
      layer,
      put: [
        put(
          lineThrough([
            [-0.5, 0.3, 0],
            [0.5, -0.2, 0],
          ]),
        ),
      ],
    });
    expect(linesOf(engine, layer)[0]!.at).toEqual([-0.5, 0, 0, 0.5, 0, 0]);
    expect(() => engine.apply({ do: 'edit-ink', layer: LOCAL, put: [put(across(0))] })).toThrow(
      /not an ink layer/,
    );
    expect(() => engine.apply({ do: 'edit-ink', layer, remove: [7] })).toThrow(/isn’t there any more/);
    expect(() =>
      engine.apply({ do: 'edit-ink', layer, put: [{ ...across(0), press: [1] }] } as never),
    ).toThrow(/two points or more/);
    expect(engine.inkFigures(layer)).toEqual({ own: 0, gapped: [] });
    expect(() => engine.ownLines(LOCAL)).toThrow(/not an ink layer/);
  });

  it('draws lines by itself, which can be taken over as lines', () => {
    const { engine, layer } = inkOn(seamedFloor());
    const own = {
      from: { along: 'borders', of: ['islands'], regions: [] },
      style: { ...usualInk(0.05), taper: [0, 0] },
      shortest: 0,
      smooth: 0,
      width: null,
    } as const;
    const bare = picture(engine);
    engine.apply({ do: 'patch-layer', layer, patch: { own: own as never } });
    const drawn = picture(engine);
    expect(drawn).not.toBe(bare);
    const lines = engine.ownLines(layer);
    expect(lines).toHaveLength(1);
    engine.apply({
      do: 'several',
      label: 'Take over',
      commands: [
        { do: 'edit-ink', layer, put: lines.map((line) => ({ ...line, id: null })) },
        { do: 'patch-layer', layer, patch: { own: null } },
      ],
    });
    expect(linesOf(engine, layer)).toHaveLength(1);
    expect(picture(engine)).toBe(drawn);
  });

  it('draws its own lines anew when a cue that they go by comes, or changes', () => {
    const { engine, layer } = inkOn();
    const bare = picture(engine);
    const tone = cueSpec.parse({ cue: 'height', direction: [1, 0, 0], from: 0, to: 1 });
    engine.apply({
      do: 'patch-layer',
      layer,
      patch: {
        own: {
          from: {
            along: 'hatching',
            tone,
            low: 0,
            high: 1,
            invert: false,
            way: 'around',
            directions: 1,
            spacing: 0.02,
            length: 0.1,
          },
          style: { ...usualInk(0.02), taper: [0, 0] },
          shortest: 0,
          smooth: 0,
          width: null,
        },
      },
    });
    settle(engine);
    expect(picture(engine)).toBe(bare);
    const values = (value: number): Uint16Array => new Uint16Array(engine.surface.codes.length).fill(value);
    engine.setCue(tone, values(0));
    settle(engine);
    const dark = picture(engine);
    expect(dark).not.toBe(bare);
    engine.setCue(tone, values(65535));
    settle(engine);
    expect(picture(engine)).toBe(bare);
    engine.setCue(tone, values(0));
    settle(engine);
    expect(picture(engine)).toBe(dark);
  });

  it('is merged into paint like any other', () => {
    const { engine, layer } = inkOn();
    engine.apply({ do: 'edit-ink', layer, put: [put(across(0))] });
    const before = picture(engine);
    engine.apply({ do: 'merge-visible', name: 'All' });
    expect(picture(engine)).toBe(before);
  });

  it('goes with the model when it is turned, and stays on it when it is laid out anew', async () => {
    const mesh = floor();
    const { engine, layer } = inkOn(mesh);
    engine.apply({ do: 'edit-ink', layer, put: [put(across(0.5))] });
    const before = linesOf(engine, layer)[0]!;
    const axes = { up: '+y', front: '+x' } as const;
    const placing = placingOf(axes);
    await changeModel(engine, modelOf(placeMesh(mesh, axes), 256), { byTriangle: true, placing, patch: {} });
    const turned = linesOf(engine, layer)[0]!;
    expect(turned.at.map((x) => Number(x.toFixed(6)))).not.toEqual(before.at);
    expect(Math.abs(turned.at[0]!)).toBeCloseTo(0.5, 6);
    expect(turned.style.width).toBeCloseTo(0.05, 6);
    engine.undo();
    expect(linesOf(engine, layer)[0]).toEqual(before);
    const relaid = moveFaces(mesh, () =>
      sheetMove([0.5, 0.5], { turn: Math.PI / 2, scaleU: 0.8, scaleV: 0.8 }),
    );
    await changeModel(engine, modelOf(relaid, 256), { byTriangle: true, placing: null, patch: {} });
    expect(linesOf(engine, layer)[0]).toEqual(before);
    const there = inkOn(relaid);
    there.engine.apply({ do: 'edit-ink', layer: there.layer, put: [put(across(0.5))] });
    expect(picture(engine)).toBe(picture(there.engine));
  });
});
