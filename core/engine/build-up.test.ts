import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL, PAINT, sortedTiles } from '../../tests/engines';
import { ball, plate, seamedFloor } from '../../tests/shapes';
import { HARD, line as lineOf, PLAIN_STROKE } from '../../tests/strokes';
import { measureCue } from '../cues';
import { texelIndex, TILE_BYTES } from '../surface';
import { compositeSheet } from './pictures/flatten';
import { findNode, MAX_NODES } from '../document';
import { PLAIN_LEVELS, type MaskStep } from '../layers';
import type { Engine } from './engine';

const line = (z: number, radius = 0.3, x0 = -0.8, x1 = 0.8): number[] =>
  lineOf([x0, 0, z], [x1, 0, z], radius);

const stroke = (z: number, patch: Partial<typeof PLAIN_STROKE> = {}, layer = PAINT) => ({
  do: 'stroke' as const,
  layer,
  stroke: { ...PLAIN_STROKE, brush: HARD, ...patch, runs: [line(z)] },
});

/** A texel of the left half of the floor at height z of the model, which runs from 1 (v = 0.05) to -1 (v = 0.85). */
const at = (engine: Engine, x: number, y: number): number[] => {
  const { r, g, b, a } = engine.colorAt(texelIndex(128, x, y));
  return [r, g, b, a];
};

const step = (patch: Partial<Extract<MaskStep, { from: 'cue' }>>): MaskStep => ({
  from: 'cue',
  join: 'multiply',
  levels: PLAIN_LEVELS,
  invert: false,
  cue: { cue: 'height', direction: [1, 0, 0], from: 0, to: 1 },
  ...patch,
});

function measure(engine: Engine): void {
  for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
}

describe('groups', () => {
  it('hold layers, nest, and go with all that is in them, pixels too; undo brings all of it back', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0));
    const before = compositeSheet(engine);
    const { ids } = engine.apply({ do: 'group-layers', layers: [PAINT], name: 'Inner' });
    engine.apply({ do: 'group-layers', layers: [ids[0]!], name: 'Outer' });
    expect(compositeSheet(engine)).toEqual(before);
    const outer = engine.document.layers[1]!;
    expect(outer).toMatchObject({
      kind: 'group',
      name: 'Outer',
      layers: [{ name: 'Inner', layers: [{ id: PAINT }] }],
    });
    const document = engine.document;
    engine.apply({ do: 'remove-layers', layers: [outer.id] });
    expect([...engine.tilesOf(PAINT)]).toEqual([]);
    expect(engine.document.layers).toHaveLength(1);
    engine.undo();
    expect(engine.document).toEqual(document);
    expect(compositeSheet(engine)).toEqual(before);
    engine.apply({ do: 'ungroup', layer: outer.id });
    engine.apply({ do: 'ungroup', layer: ids[0]! });
    expect(engine.document.layers.map((l) => l.id)).toEqual([LOCAL, PAINT]);
    expect(compositeSheet(engine)).toEqual(before);
  });

  it('let what lies below shine through, or are composited by themselves when they are isolated', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0, { color: '#808080' }));
    engine.apply({ do: 'patch-layer', layer: PAINT, patch: { blend: 'multiply' } });
    const multiplied = at(engine, 28, 77);
    const [group] = engine.apply({ do: 'group-layers', layers: [PAINT], name: 'G' }).ids;
    expect(at(engine, 28, 77)).toEqual(multiplied);
    engine.apply({ do: 'patch-layer', layer: group!, patch: { isolated: true } });
    // Nothing lies under it in its group: it is laid as it is.
    expect(at(engine, 28, 77)).toEqual([0x80, 0x80, 0x80, 255]);
    engine.apply({ do: 'patch-layer', layer: group!, patch: { isolated: false, opacity: 0.5 } });
    const half = at(engine, 28, 77);
    for (let k = 0; k < 3; k++)
      expect(Math.abs(half[k]! - ([0xb6, 0xac, 0xa2][k]! + multiplied[k]!) / 2)).toBeLessThan(1);
  });

  it('are moved into one another, but never into themselves', () => {
    const engine = engineOn(seamedFloor());
    const [a] = engine.apply({ do: 'add-group', name: 'A', at: 2 }).ids;
    const [b] = engine.apply({ do: 'add-group', name: 'B', at: 0, into: a! }).ids;
    engine.apply({ do: 'move-layers', layers: [LOCAL, PAINT], into: b!, at: 0 });
    expect(engine.document.layers).toMatchObject([
      { id: a, layers: [{ id: b, layers: [{ id: LOCAL }, { id: PAINT }] }] },
    ]);
    expect(() => engine.apply({ do: 'move-layers', layers: [a!], into: b!, at: 0 })).toThrow(/into itself/);
  });

  it('can’t be nested deeper than can be opened again', () => {
    const engine = engineOn(seamedFloor());
    let into: number | null = null;
    for (let i = 0; i < 8; i++) into = engine.apply({ do: 'add-group', name: `G${i}`, at: 0, into }).ids[0]!;
    const before = engine.document;
    expect(() => engine.apply({ do: 'add-group', name: 'deeper', at: 0, into })).toThrow(/8 deep/);
    expect(engine.document).toBe(before);
  });
});

describe('clipping', () => {
  it('keeps a layer to where the one under it has paint', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0, { color: '#ff0000' }));
    const [top] = engine.apply({
      do: 'add-layer',
      layer: { kind: 'paint', name: 'Top', clip: true },
      at: 2,
    }).ids;
    engine.apply({ do: 'fill', layer: top!, color: '#0000ff' });
    expect(at(engine, 28, 77)).toEqual([0, 0, 255, 255]);
    expect(at(engine, 28, 110)).toEqual([0xb6, 0xac, 0xa2, 255]);
    engine.apply({ do: 'patch-layer', layer: PAINT, patch: { visible: false } });
    expect(at(engine, 28, 77)).toEqual([0xb6, 0xac, 0xa2, 255]);
  });
});

const PAINTED = { from: 'painted', levels: PLAIN_LEVELS, invert: false } as const;

describe('masks', () => {
  it('are joined from steps, each with levels and invert', () => {
    const engine = engineOn(seamedFloor());
    const valueAt = (mask: MaskStep[]): number => {
      engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask } });
      measure(engine);
      engine.setView({ alone: null, maskOf: LOCAL, detail: null });
      const tile = new Uint8Array(TILE_BYTES);
      engine.renderTile(2, tile);
      return tile[(texelIndex(128, 28, 77) % 4096) * 4]!;
    };
    // The texel's middle lies at x = -1 + (28.5 / 128 - 0.05) / 0.35.
    const x = (28.5 / 128 - 0.05) / 0.35 / 2;
    const close = (value: number, wanted: number): void =>
      expect(Math.abs(value - wanted * 255)).toBeLessThan(1.2);
    close(valueAt([step({})]), x);
    close(valueAt([step({ invert: true })]), 1 - x);
    const half = step({ levels: { low: 0, high: 0.5, gamma: 1 } });
    close(valueAt([half]), 2 * x);
    close(valueAt([step({}), half]), 2 * x * x);
    close(valueAt([step({}), { ...half, join: 'lighten' } as MaskStep]), 2 * x);
    close(valueAt([step({}), { ...half, join: 'darken' } as MaskStep]), x);
    close(valueAt([step({}), { ...half, join: 'add' } as MaskStep]), 3 * x);
    close(valueAt([half, step({ join: 'subtract' })]), x);
    close(valueAt([step({ levels: { low: 0, high: 1, gamma: 2 } })]), Math.sqrt(x));
  });

  it('are painted over by hand, which has the last word, and stay live beside it', () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [step({}), PAINTED] } });
    measure(engine);
    const alpha = (x: number, y: number): number => at(engine, x, y)[3]!;
    const derived = [alpha(28, 77), alpha(28, 110)];
    const onMask = (color: string) => ({ ...stroke(0, { color }, LOCAL), channel: 'mask' as const });
    engine.apply(onMask('#000000'));
    expect(alpha(28, 77)).toBe(0);
    engine.apply(onMask('#ffffff'));
    expect(alpha(28, 77)).toBe(255);
    expect(alpha(28, 110)).toBe(derived[1]);
    expect(engine.strokesOf(LOCAL, 'mask')).toHaveLength(2);
    engine.apply({
      do: 'patch-layer',
      layer: LOCAL,
      patch: { mask: [step({ invert: true }), PAINTED] },
    });
    expect(alpha(28, 77)).toBe(255);
    expect(Math.abs(alpha(28, 110) - (255 - derived[1]!))).toBeLessThanOrEqual(1);
    // Taking the painted step off takes its pixels along; undo brings both back.
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [] } });
    expect([...engine.tilesOf(LOCAL, 'mask')]).toEqual([]);
    engine.undo();
    expect(alpha(28, 77)).toBe(255);
  });

  it('what is painted has levels and can be inverted, too', () => {
    const engine = engineOn(seamedFloor());
    const covered = (painted: MaskStep): number => {
      engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [painted] } });
      const sheet = compositeSheet(engine);
      return sheet[(64 * 128 + 26) * 4 + 3]!;
    };
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [PAINTED] } });
    const grey = { do: 'fill', layer: LOCAL, channel: 'mask', color: '#404040' } as const;
    engine.apply(grey);
    expect(covered(PAINTED)).toBe(0x40);
    expect(covered({ ...PAINTED, invert: true })).toBe(0xbf);
    // From black at a quarter (64/255 lies just above it) to white at half.
    const levels = { low: 0.25, high: 0.5, gamma: 1 };
    expect(covered({ ...PAINTED, levels })).toBe(Math.round(((0x40 / 255 - 0.25) / 0.25) * 255));
    expect(covered({ ...PAINTED, levels, invert: true })).toBe(
      255 - Math.round(((0x40 / 255 - 0.25) / 0.25) * 255),
    );
  });

  it('can be another layer’s, but not in a circle, and go when that one goes', () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [step({})] } });
    const of = (layer: number): MaskStep => ({
      from: 'layer',
      layer,
      join: 'multiply',
      levels: PLAIN_LEVELS,
      invert: true,
    });
    engine.apply({ do: 'fill', layer: PAINT, color: '#00ff00' });
    engine.apply({ do: 'patch-layer', layer: PAINT, patch: { mask: [of(LOCAL)] } });
    measure(engine);
    const { a } = engine.colorAt(texelIndex(128, 28, 77));
    // Local colour through x, paint through 1 - x: alpha is what source-over makes of both.
    const x = (28.5 / 128 - 0.05) / 0.35 / 2;
    expect(Math.abs(a - (1 - x * (1 - x)) * 255)).toBeLessThan(1.2);
    expect(() => engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [of(PAINT)] } })).toThrow(
      /made from itself/,
    );
    engine.apply({ do: 'remove-layers', layers: [LOCAL] });
    expect(engine.layer(PAINT).mask).toEqual([]);
  });
});

describe('locks', () => {
  it('keep transparency, or every pixel', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0, { color: '#ff0000' }));
    engine.apply({ do: 'patch-layer', layer: PAINT, patch: { lock: 'transparent' } });
    const alphas = sortedTiles(engine.tilesOf(PAINT)).map(([, bytes]) =>
      bytes!.filter((_, i) => i % 4 === 3),
    );
    engine.apply(stroke(0.3, { color: '#0000ff' }));
    expect(
      sortedTiles(engine.tilesOf(PAINT)).map(([, bytes]) => bytes!.filter((_, i) => i % 4 === 3)),
    ).toEqual(alphas);
    expect(engine.strokesOf(PAINT).at(-1)!.keepAlpha).toBe(true);
    expect(at(engine, 28, 82)).toEqual([0, 0, 255, 255]);
    engine.apply({ do: 'patch-layer', layer: PAINT, patch: { lock: 'pixels' } });
    expect(() => engine.apply(stroke(0))).toThrow(/locked/);
  });
});

describe('layer work', () => {
  it('merges down and duplicates without a change of the picture', () => {
    const engine = engineOn(ball());
    engine.apply(stroke(0, { opacity: 0.6, nearSide: false }));
    const { ids } = engine.apply({
      do: 'add-layer',
      layer: { kind: 'paint', name: 'Top', opacity: 0.7 },
      at: 2,
    });
    engine.apply({ ...stroke(0.2, { color: '#2040ff', nearSide: false }), layer: ids[0]! });
    const before = compositeSheet(engine);
    engine.apply({ do: 'merge-down', layer: ids[0]! });
    expect(findNode(engine.document.layers, ids[0]!)).toBeUndefined();
    const merged = compositeSheet(engine);
    // Both are rounded to 8 bits once in between.
    expect(merged.every((x, i) => Math.abs(x - before[i]!) <= 1)).toBe(true);
    const [copy] = engine.apply({ do: 'duplicate-layers', layers: [PAINT] }).ids;
    expect(sortedTiles(engine.tilesOf(copy!))).toEqual(sortedTiles(engine.tilesOf(PAINT)));
    engine.undo();
    engine.undo();
    expect(compositeSheet(engine)).toEqual(before);
    expect(() => engine.apply({ do: 'merge-down', layer: PAINT })).toThrow(/no paint layer to merge into/);
  });

  it('several commands are one step, done wholly or not at all', () => {
    const engine = engineOn(seamedFloor());
    const before = engine.document;
    const several = (last: number) => ({
      do: 'several' as const,
      label: 'Both',
      commands: [
        { do: 'fill' as const, layer: PAINT, color: '#ff0000' },
        { do: 'patch-layer' as const, layer: last, patch: { opacity: 0.5 } },
      ],
    });
    expect(() => engine.apply(several(99))).toThrow(expect.objectContaining({ code: 'layer-missing' }));
    expect(engine.document).toBe(before);
    expect([...engine.tilesOf(PAINT)]).toEqual([]);
    engine.apply(several(LOCAL));
    expect(engine.history.labels).toEqual(['Both']);
    engine.undo();
    expect(engine.document).toEqual(before);
    expect([...engine.tilesOf(PAINT)]).toEqual([]);
  });
});

describe('limits', () => {
  it('hold at every command, with a sentence, and leave everything as it was', () => {
    const engine = engineOn(plate(0.2));
    for (let n = 2; n < MAX_NODES; n++)
      engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: `P${n}` }, at: 0 });
    const before = engine.document;
    const one = { do: 'add-layer', layer: { kind: 'paint', name: 'one more' }, at: 0 } as const;
    expect(() => engine.apply(one)).toThrow(/up to 200 layers and groups; these would be 201/);
    expect(() => engine.apply({ do: 'duplicate-layers', layers: [PAINT] })).toThrow(/200 layers/);
    expect(engine.document).toBe(before);
    const swatches = Array.from({ length: 1000 }, () => ({ name: '', color: '#808080' }));
    engine.apply({ do: 'add-swatches', swatches });
    const more = { do: 'add-swatches', swatches: swatches.slice(0, 1) } as const;
    expect(() => engine.apply(more)).toThrow(/up to 1000 swatches; these would be 1001/);
  });

  it('ids are the engine’s: two quick additions get two', () => {
    const engine = engineOn(seamedFloor());
    const add = () => engine.apply({ do: 'add-swatches', swatches: [{ name: '', color: '#808080' }] }).ids;
    expect([...add(), ...add()]).toEqual([3, 4]);
    expect(engine.document.palette).toHaveLength(2);
  });
});

describe('steps', () => {
  it('of two drags are two, whatever they are called after a reload', () => {
    const engine = engineOn(seamedFloor());
    const fade = (opacity: number, gesture: string | null) =>
      engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { opacity } }, gesture);
    fade(0.9, 'slide 0');
    fade(0.8, 'slide 0');
    expect(engine.history.done).toBe(1);
    // Another thing under the same name, an empty name, and a drag that goes on after something else.
    engine.apply({ do: 'patch-layer', layer: PAINT, patch: { opacity: 0.7 } }, 'slide 0');
    fade(0.6, '');
    fade(0.5, '');
    expect(engine.history.done).toBe(4);
    engine.undo();
    fade(0.4, '');
    expect(engine.history.done).toBe(4);
    expect(engine.layer(LOCAL).opacity).toBe(0.4);
    engine.undo();
    expect(engine.layer(LOCAL).opacity).toBe(0.6);
  });

  it('undo in the middle of a stroke takes back that stroke and no other', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0));
    const one = compositeSheet(engine);
    engine.beginStroke(PAINT, PLAIN_STROKE);
    engine.extendStroke(line(0.5), true);
    expect(engine.undo()).toBe(true);
    expect(compositeSheet(engine)).toEqual(one);
    expect(engine.strokeCount()).toBe(1);
    engine.extendStroke(line(0.6), false);
    engine.endStroke();
    expect(engine.strokeCount()).toBe(1);
  });

  it('are taken back by their number only while they are the last', () => {
    const engine = engineOn(seamedFloor());
    const { step: removed } = engine.apply({ do: 'remove-layers', layers: [PAINT] });
    engine.apply({ do: 'rename-project', name: 'Later' });
    expect(() => engine.undo(removed)).toThrow(/1 more step was done/);
    expect(engine.document.name).toBe('Later');
    engine.undo();
    expect(engine.undo(removed)).toBe(true);
    expect(findNode(engine.document.layers, PAINT)).toBeDefined();
    expect(() => engine.undo(removed)).toThrow(/taken back already/);
  });

  it('a look at another blend mode leaves nothing behind', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0, { color: '#808080' }));
    const before = compositeSheet(engine);
    engine.preview(PAINT, { blend: 'multiply' });
    expect(compositeSheet(engine)).not.toEqual(before);
    expect(engine.document.layers[1]!.blend).toBe('normal');
    engine.preview(PAINT, null);
    expect(compositeSheet(engine)).toEqual(before);
    engine.preview(PAINT, { blend: 'multiply' });
    engine.apply({ do: 'rename-project', name: 'Other' });
    expect(compositeSheet(engine)).toEqual(before);
  });

  it('names of parts are data: what is called as something every object has is a name like others', () => {
    const mesh = { ...plate(0.2, 'Under'), parts: ['constructor', '__proto__'] };
    const engine = engineOn(mesh);
    const colors: [string, string][] = [
      ['__proto__', '#ff0000'],
      ['toString', '#00ff00'],
    ];
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors } });
    expect(at(engine, 32, 96)).toEqual([0xb6, 0xac, 0xa2, 255]);
    expect(at(engine, 96, 32)).toEqual([255, 0, 0, 255]);
  });
});
