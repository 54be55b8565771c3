import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, LOCAL, modelOf, PAINT } from '../../tests/engines';
import { ball, plate } from '../../tests/shapes';
import { HARD, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { encodePng } from '../formats';
import { cornersOf, placeMesh, placingOf, withBackdrops, type Backdrop, type UvMesh } from '../mesh';
import { RampAssignments } from '../ramps';
import { compositeSheet } from './pictures/flatten';
import { oneSheet, type ProjectDocument, type Sheet } from '../document';
import { PLAIN_LEVELS } from '../layers';
import { usualDecal } from '../decal';
import type { Engine } from './engine';

const backdrop = (name: string, sheet: number, z: number): Backdrop => ({
  name,
  sheet,
  corners: cornersOf({ centre: [0, 0, z], right: [1, 0, 0], up: [0, 1, 0], width: 4, height: 4 }),
});
const SKY = backdrop('Sky', 1, -3);
const HILLS = backdrop('Hills', 2, -2);
const FORM = ball();
const sheets = (...names: string[]): Sheet[] => [
  ...oneSheet(128),
  ...names.map((name): Sheet => ({ name, size: 64 })),
];

const across = (z: number): number[] =>
  Array.from({ length: 13 }, (_, i) => sampleAt([-1 + i / 6, 0, z], [0, 0, 1], 0.4)).flat();

const paint = (engine: Engine, z: number, part?: string): void => {
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    guard: part === undefined ? null : { part },
    stroke: { ...PLAIN_STROKE, brush: HARD, eye: [0, 0, 1], up: [0, 1, 0], runs: [across(z)] },
  });
};

/** Texels in the brush's colour. */
const paintedOn = (engine: Engine, sheet: number): number => {
  const rows = compositeSheet(engine, sheet);
  let n = 0;
  for (let i = 0; i < rows.length; i += 4) if (rows[i] === 0xc8 && rows[i + 3] === 255) n++;
  return n;
};

/** Makes all strokes of the paint layer again. */
const again = (engine: Engine): void => {
  const strokes = engine.editableStrokes(PAINT).map((s) => s.number);
  if (strokes.length) engine.apply({ do: 'edit-strokes', layer: PAINT, strokes, change: {} });
};

describe('a backdrop that goes', () => {
  it('leaves alone what holds strokes on another one', async () => {
    const engine = engineOn(withBackdrops(FORM, [SKY, HILLS]), sheets('Sky', 'Hills'));
    paint(engine, -2, 'Hills');
    const hills = paintedOn(engine, 2);
    expect(hills).toBeGreaterThan(200);
    const left = sheets('Hills');
    await changeModel(engine, modelOf(withBackdrops(FORM, [{ ...HILLS, sheet: 1 }]), left), {
      patch: { sheets: left },
    });
    expect(paintedOn(engine, 1)).toBe(hills);
    again(engine);
    expect(engine.editableStrokes(PAINT)).toHaveLength(1);
    expect(paintedOn(engine, 1)).toBe(hills);
  });

  it('takes its strokes along: another one that stands there later is bare, also when strokes are made again', async () => {
    const engine = engineOn(withBackdrops(FORM, [SKY]), sheets('Sky'));
    paint(engine, -3);
    expect(paintedOn(engine, 1)).toBeGreaterThan(200);
    await changeModel(engine, modelOf(FORM, sheets()), { patch: { sheets: sheets() } });
    const dusk = withBackdrops(FORM, [{ ...SKY, name: 'Dusk' }]);
    await changeModel(engine, modelOf(dusk, sheets('Dusk')), { patch: { sheets: sheets('Dusk') } });
    expect(paintedOn(engine, 1)).toBe(0);
    again(engine);
    const larger = sheets('Dusk').map((s) => ({ ...s, size: 256 as const }));
    await changeModel(engine, modelOf(dusk, larger), { patch: { sheets: larger } });
    expect(paintedOn(engine, 1)).toBe(0);
    for (let i = 0; i < 3; i++) engine.undo();
    expect(paintedOn(engine, 1)).toBeGreaterThan(200);
  });

  it('keeps its strokes when it is only called otherwise', async () => {
    const engine = engineOn(withBackdrops(FORM, [SKY]), sheets('Sky'));
    paint(engine, -3, 'Sky');
    const before = paintedOn(engine, 1);
    const dusk = withBackdrops(FORM, [{ ...SKY, name: 'Dusk' }]);
    await changeModel(engine, modelOf(dusk, sheets('Sky')), { renamed: [['Sky', 'Dusk']] });
    again(engine);
    expect([paintedOn(engine, 1), engine.editableStrokes(PAINT).length]).toEqual([before, 1]);
  });
});

describe('what was removed', () => {
  it('a painted mask stays removed: a fresh one is empty, at another size too', async () => {
    const engine = engineOn(plate(0.2), 64);
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [PAINTED] } });
    const hide = { ...PLAIN_STROKE, color: '#000000', brush: HARD, runs: [DOWN] };
    engine.apply({ do: 'stroke', layer: LOCAL, channel: 'mask', stroke: hide });
    const filled = (): number => [...engine.tilesOf(LOCAL, 'mask')].length;
    expect(filled()).toBeGreaterThan(0);
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [] } });
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [PAINTED] } });
    expect(filled()).toBe(0);
    await changeModel(engine, modelOf(plate(0.2), 128), { patch: { sheets: oneSheet(128) } });
    expect(filled()).toBe(0);
    expect(engine.editableStrokes(LOCAL, 'mask')).toEqual([]);
    for (let i = 0; i < 3; i++) engine.undo();
    expect(filled()).toBeGreaterThan(0);
    expect(engine.editableStrokes(LOCAL, 'mask')).toHaveLength(1);
  });

  it('a layer’s strokes aren’t made again, and its pixels don’t come back into storage', async () => {
    const engine = engineOn(plate(0.2), 64);
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [DOWN] } });
    engine.apply({ do: 'remove-layers', layers: [PAINT] });
    const { carried } = await changeModel(engine, modelOf(plate(0.2), 128), {
      patch: { sheets: oneSheet(128) },
    });
    expect(carried.planes).toEqual([]);
    expect(engine.everything().pixels).toEqual([]);
    engine.undo();
    engine.undo();
    expect([...engine.tilesOf(PAINT)].length).toBeGreaterThan(0);
  });
});

const PAINTED = { from: 'painted', levels: PLAIN_LEVELS, invert: false } as const;
const DOWN = [-0.6, -0.2, 0.2, 0.6].flatMap((x) => sampleAt([x, 0.1, 0], [0, 1, 0], 0.3));

/** A picture of one colour, to be set on a model. */
const SPOT = encodePng({ width: 2, height: 2, rgba: new Uint8Array(16).fill(255) });

/** A plate with a decal, a run on a ramp of each kind, a stand-in, a pair of Match and a kept camera. */
function furnished(): Engine {
  const engine = engineOn(SLAB, 256);
  const { ids } = engine.attach(
    { do: 'add-pattern', pattern: { name: 'Spot', width: 2, height: 2, listed: false } },
    SPOT,
  );
  const where = { at: [0.1, 0.05, 0.1], normal: [0, 1, 0], up: [0, 0, -1] } as const;
  const decal = usualDecal(ids[0]!, {
    at: [...where.at],
    normal: [...where.normal],
    up: [...where.up],
  });
  engine.apply({ do: 'add-layer', layer: { kind: 'decal', name: 'Spot', decal }, at: 2 });
  const ramp = (name: string) => ({ id: null, name, colors: ['#101010', '#f0f0f0'] });
  const sheet = engine.apply({ do: 'set-ramps', ramps: [ramp('A'), ramp('B')] });
  engine.apply({
    do: 'seat',
    of: { part: 'Plate' },
    ramp: sheet.ids[0]!,
    run: { kind: 'straight', direction: [1, 0, 0.5] },
    from: 0,
    to: 1,
    rings: [],
  });
  engine.apply({
    do: 'seat',
    of: { part: 'Under' },
    ramp: sheet.ids[1]!,
    run: { kind: 'round', centre: [0.2, 0, 0.1] },
    from: 0,
    to: 1,
    rings: [],
  });
  engine.apply({
    do: 'add-camera',
    camera: {
      name: 'Near',
      pose: { target: [0.4, 0, 0], turn: [0, 0, 0, 1], distance: 2, flat: false, focal: 50, shift: [0, 0] },
    },
  });
  return engine;
}
const SLAB: UvMesh = plate(0.2, 'Under');

describe('a model that is turned or replaced takes along', () => {
  const turned = { up: '+z', front: '+x', scale: 3 } as const;

  it('decals and what lies on ramps, to the texel', async () => {
    const engine = furnished();
    const decalTexels = (): Uint8Array => {
      engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { visible: false } });
      const rows = compositeSheet(engine);
      engine.undo();
      return rows;
    };
    const before = decalTexels();
    const uvs = rampUvs(engine);
    expect(before.some((v) => v > 0)).toBe(true);
    await changeModel(engine, modelOf(placeMesh(SLAB, turned), 256), { placing: placingOf(turned) });
    const after = decalTexels();
    // Borders are smooth over a texel: places rounded to 32 bits change a level at the most.
    expect(after.every((v, i) => Math.abs(v - before[i]!) <= 2)).toBe(true);
    expect(rampUvs(engine).every((u, i) => Math.abs(u - uvs[i]!) < 1e-5)).toBe(true);
    engine.undo();
    expect(decalTexels()).toEqual(before);
  });

  it('kept cameras and the pairs of a reference', async () => {
    const engine = furnished();
    engine.attach({ do: 'add-reference', reference: { name: 'Plan', width: 2, height: 2 } }, SPOT);
    const { id } = engine.document.references[0]!;
    const match: NonNullable<ProjectDocument['references'][number]['match']> = {
      how: 'orthographic',
      camera: {
        position: [0, 5, 0],
        target: [0, 0, 0],
        up: [0, 0, -1],
        fovY: 20,
        shift: [0, 0],
        width: 2,
        height: 2,
      },
      pairs: [{ model: [0.5, 0.1, 0], picture: [1, 1] }],
      mirror: false,
      crop: { left: 0, top: 0, right: 1, bottom: 1 },
      mask: [],
      spans: [],
    };
    engine.apply({ do: 'patch-reference', reference: id, patch: { match } });
    await changeModel(engine, modelOf(placeMesh(SLAB, { scale: 10 }), 256), {
      placing: placingOf({ scale: 10 }),
    });
    const now = engine.document.references[0]!.match!;
    expect(now.pairs[0]!.model).toEqual([5, 1, 0]);
    expect(now.camera).toMatchObject({ position: [0, 50, 0], up: [0, 0, -1] });
    expect(engine.document.cameras[0]!.pose).toMatchObject({ target: [4, 0, 0], distance: 20 });
  });

  it('decals, where another model has another box: they stay where they were in space', async () => {
    const engine = furnished();
    const before = decalPlace(engine);
    // A tail has grown: the box reaches farther to one side.
    const grown: UvMesh = { ...SLAB, positions: SLAB.positions.map((x) => (x === 1 ? 1.2 : x)) };
    await changeModel(engine, modelOf(grown, 256), { byTriangle: false });
    decalPlace(engine).forEach((x, k) => expect(x).toBeCloseTo(before[k]!, 6));
  });

  it('a decal over the surface, where the same triangles have another shape', async () => {
    const engine = furnished();
    const [x, y, z] = decalPlace(engine);
    // The top is lifted by 2; what lies on it goes up with it.
    const taller: UvMesh = {
      ...SLAB,
      positions: SLAB.positions.map((at, i) => (i % 3 === 1 && at > -0.1 ? at + 2 : at)),
    };
    await changeModel(engine, modelOf(taller, 256));
    [x!, y! + 2, z!].forEach((at, k) => expect(decalPlace(engine)[k]).toBeCloseTo(at, 5));
  });
});

/** Where the decal is, and how wide, model units. */
function decalPlace(engine: Engine): number[] {
  const layer = engine.document.layers.find((l) => l.kind === 'decal');
  if (layer?.kind !== 'decal') throw new Error('no decal');
  const { min, max } = bounds(engine.mesh);
  const diagonal = Math.hypot(...max.map((m, k) => m - min[k]!));
  return [
    ...layer.decal.at.map((at, k) => (min[k]! + max[k]!) / 2 + at * diagonal),
    layer.decal.width * diagonal,
  ];
}

/** The box around a mesh, counted here. */
function bounds({ positions }: UvMesh): { min: number[]; max: number[] } {
  const axis = (k: number): number[] => [...positions].filter((_, i) => i % 3 === k);
  return { min: [0, 1, 2].map((k) => Math.min(...axis(k))), max: [0, 1, 2].map((k) => Math.max(...axis(k))) };
}

/** uv a corner on the ramp sheet. */
const rampUvs = (engine: Engine): Float32Array =>
  new RampAssignments(engine.mesh).reckon(engine.document.ramps!, () => []).uvs;
