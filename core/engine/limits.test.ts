import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL, PAINT } from '../../tests/engines';
import { plate, quads, floorQuad } from '../../tests/shapes';
import { PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { IDENTITY, type Placing } from '../math';
import { unpackTiles } from '../pixels';
import { MAX_CUTS, type Cut } from '../region';
import { MAX_FRAMES, parseDocument, type ProjectDocument } from '../document';
import { PLAIN_LEVELS } from '../layers';

const moved = (by: number): Placing => IDENTITY.map((x, i) => (i === 3 ? by : x));
const DOT = [sampleAt([0, 0.1, 0], [0, 1, 0], 0.3)];
const CUT: Cut = {
  how: 'remove',
  faces: [0, 1],
  view: [1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
  outline: [
    [0, 0],
    [1, 0],
    [0, 1],
  ],
};

/** A project that is accepted is one that opens. */
const opens = (document: ProjectDocument): boolean =>
  parseDocument(JSON.parse(JSON.stringify(document))) !== null;

describe('what a project can’t keep is refused when it is asked for', () => {
  it('frames that no stroke needs make room for the next', () => {
    const frames = Array.from({ length: MAX_FRAMES }, (_, i) => ({ id: 100 + i, placing: moved(i + 1) }));
    const engine = engineOn(plate(0.2), 64, { frames, nextId: 1000 });
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: DOT } });
    expect(engine.document.frames).toHaveLength(1);
    expect(opens(engine.document)).toBe(true);
  });

  it('a seat more than a ramp sheet holds', () => {
    const engine = engineOn(plate(0.2), 64);
    const ramp = (name: string) => ({ id: null, name, colors: ['#101010', '#f0f0f0'] });
    const { ids } = engine.apply({ do: 'set-ramps', ramps: [ramp('A'), ramp('B')] });
    const run = { kind: 'straight', direction: [1, 0, 0] } as const;
    const fields = {
      ramp: ids[0]!,
      from: 0,
      to: 1,
      rings: [],
      run: { ...run, direction: [1, 0, 0] as [number, number, number] },
    };
    const seats = Array.from({ length: 2000 }, (_, i) => ({
      ...fields,
      id: 5000 + i,
      of: { part: `P${i}` },
    }));
    const full = engineOn(plate(0.2), 64, {
      ramps: { ...engine.document.ramps!, seats },
      nextId: 9000,
    });
    expect(opens(full.document)).toBe(true);
    expect(() => full.apply({ do: 'seat', of: { part: 'Plate' }, ...fields })).toThrow(
      expect.objectContaining({ code: 'document-invalid', message: expect.stringMatching(/2000/) as string }),
    );
    expect(full.document.ramps!.seats).toHaveLength(2000);
  });

  it('a stroke held by more cuts than can be kept, before anything of it is painted', () => {
    const cuts = Array.from({ length: MAX_CUTS }, () => CUT);
    const region = { id: 50, name: 'Cut', faces: [0, 1], cuts };
    const engine = engineOn(plate(0.2), 64, { regions: [region], nextId: 60 });
    const guard = { region: 50, area: { faces: [0, 2], cuts } };
    expect(() => engine.beginStroke(PAINT, PLAIN_STROKE, { guard })).toThrow(
      expect.objectContaining({ code: 'document-invalid' }),
    );
    expect(engine.strokeInHand).toBe(false);
    expect(opens(engine.document)).toBe(true);
  });

  it('tells lists by what they are called', () => {
    const swatches = Array.from({ length: 1001 }, (_, i) => ({ name: `${i}`, color: '#000000', group: '' }));
    expect(() => engineOn(plate(0.2), 64).apply({ do: 'add-swatches', swatches })).toThrow(
      'A project holds up to 1000 swatches; these would be 1001. Remove some first.',
    );
  });
});

describe('merging down', () => {
  const spot = (x: number) => ({ ...PLAIN_STROKE, runs: [sampleAt([x, 0.1, 0], [0, 1, 0], 0.3)] });
  const withUpper = () => {
    const engine = engineOn(plate(0.2), 64);
    engine.apply({ do: 'stroke', layer: PAINT, stroke: spot(-0.5) });
    const [upper] = engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'Upper' }, at: 2 }).ids;
    engine.apply({ do: 'stroke', layer: upper!, stroke: spot(0.5) });
    const patch = (layer: number, settings: object) =>
      engine.apply({ do: 'patch-layer', layer, patch: settings });
    const merge = () => engine.apply({ do: 'merge-down', layer: upper! });
    return { engine, upper: upper!, patch, merge };
  };
  const covered = (engine: ReturnType<typeof engineOn>, layer: number): number =>
    [...engine.tilesOf(layer)].reduce(
      (n, { bytes }) => n + bytes.filter((v, i) => i % 4 === 3 && v > 0).length,
      0,
    );

  it('refuses a hidden layer, which would vanish without a word', () => {
    const { patch, upper, merge, engine } = withUpper();
    patch(upper, { visible: false });
    expect(merge).toThrow(/“Upper” is hidden/);
    expect(covered(engine, upper)).toBeGreaterThan(0);
  });

  it('onto a clipped layer keeps what both have; what isn’t clipped itself is refused', () => {
    const { patch, upper, merge, engine } = withUpper();
    const both = covered(engine, PAINT) + covered(engine, upper);
    patch(PAINT, { clip: true });
    expect(merge).toThrow(/clipped/);
    patch(upper, { clip: true });
    merge();
    expect(covered(engine, PAINT)).toBe(both);
  });

  it('refuses to let what is clipped to the upper layer spread', () => {
    const { engine, merge } = withUpper();
    engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'Shine', clip: true }, at: 3 });
    expect(merge).toThrow(/“Shine” is clipped to “Upper” alone/);
  });
});

describe('a step of the history keeps what changes and no more', () => {
  it('of a filled triangle the tiles in which it lies', () => {
    const small = quads([
      floorQuad(0.1, [0.01, 0.01, 0.05, 0.05], 'Button'),
      {
        ...floorQuad(2, [0.1, 0.1, 0.99, 0.99]),
        corners: [
          [-1, 1, 1],
          [1, 1, 1],
          [1, 1, -1],
          [-1, 1, -1],
        ],
      },
    ]);
    const engine = engineOn(small, 512);
    engine.apply({ do: 'fill', layer: PAINT, channel: 'pixels', color: '#808080' });
    const [region] = engine.apply({
      do: 'add-region',
      region: { name: 'Button', faces: [0, 1], cuts: [] },
    }).ids;
    engine.apply({ do: 'fill', layer: PAINT, channel: 'pixels', color: '#ff0000', region: region! });
    const { tiles } = engine.historyData.steps.at(-1)!;
    expect(tiles && tiles !== 'away' && unpackTiles(tiles).length).toBe(1);
  });
});

it('mask steps that name a removed layer go with it when it is merged', () => {
  const engine = engineOn(plate(0.2), 64);
  const [upper] = engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'Upper' }, at: 2 }).ids;
  const step = {
    from: 'layer',
    layer: upper!,
    join: 'multiply',
    levels: PLAIN_LEVELS,
    invert: false,
  } as const;
  engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [step] } });
  engine.apply({ do: 'merge-down', layer: upper! });
  expect(engine.document.layers[0]!.mask).toEqual([]);
  expect(opens(engine.document)).toBe(true);
});
