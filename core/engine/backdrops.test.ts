import { readFileSync } from 'node:fs';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import validator from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, LOCAL, modelOf, PAINT } from '../../tests/engines';
import { ball } from '../../tests/shapes';
import { HARD, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { checkDelivery, USUAL_CHECK, hullOf } from '../delivery';
import { measureCue, type CueSpec } from '../cues';
import { encodePng, writeUnlitGlb } from '../formats';
import {
  backdropFaces,
  backdropsOf,
  checkBackdropOrder,
  cornersOf,
  subjectBounds,
  subjectOf,
  frameOfBackdrop,
  meshHash,
  withBackdrops,
  type Backdrop,
  type UvMesh,
} from '../mesh';
import { filledTiles, measureSurface, sheetOfTile, TILE_TEXELS } from '../surface';
import { compositeSheet, flattenAlbedo } from './pictures/flatten';
import { newDocument, oneSheet, type Sheet } from '../document';
import { PLAIN_LEVELS } from '../layers';
import { readProjectFile, writeProjectFile } from '../project-file';
import type { Engine } from './engine';
import type { NewLayer } from '../commands';

const SKY: Backdrop = {
  name: 'Sky',
  sheet: 1,
  corners: cornersOf({ centre: [0, 0, -3], right: [1, 0, 0], up: [0, 1, 0], width: 8, height: 4 }),
};
const GRASS: Backdrop = {
  name: 'Grass',
  sheet: 2,
  corners: cornersOf({ centre: [0, -1, 1.5], right: [1, 0, 0], up: [0, 1, 0], width: 4, height: 1 }),
};
const FORM = ball();
const sheetsFor = (count: number): Sheet[] => [
  ...oneSheet(128),
  ...['Sky', 'Grass'].slice(0, count).map((name): Sheet => ({ name, size: 64 })),
];
const withSky = (): UvMesh => withBackdrops(FORM, [SKY]);
const withBoth = (): UvMesh => withBackdrops(FORM, [SKY, GRASS]);

/** A hard line across, looked at from the front. */
const line = (from: readonly number[], to: readonly number[], radius: number): number[] =>
  Array.from({ length: 13 }, (_, i) => {
    const at = [0, 1, 2].map((k) => from[k]! + ((to[k]! - from[k]!) * i) / 12) as [number, number, number];
    return sampleAt(at, [0, 0, 1], radius);
  }).flat();

const onSky = line([-1, 0, -3], [1, 0, -3], 0.4);
const onBall = line([-0.4, 0, 1], [0.4, 0, 1], 0.3);

const paint = (engine: Engine, run: number[]): void => {
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    stroke: { ...PLAIN_STROKE, brush: HARD, eye: [0, 0, 1], up: [0, 1, 0], runs: [run] },
  });
};
const paintedOn = (engine: Engine, sheet: number): number => {
  const rows = compositeSheet(engine, sheet);
  let n = 0;
  for (let i = 0; i < rows.length; i += 4) if (rows[i] === 0xc8 && rows[i + 3] === 255) n++;
  return n;
};

describe('flat backdrops', () => {
  it('stand behind the model in every numbering, and leave its size to it', () => {
    const mesh = withBoth();
    expect(mesh.faceParts.length).toBe(FORM.faceParts.length + 4);
    expect(subjectOf(mesh)).toEqual(FORM);
    expect(meshHash(subjectOf(mesh))).toBe(meshHash(FORM));
    expect(meshHash(mesh)).not.toBe(meshHash(FORM));
    expect(subjectBounds(mesh)).toEqual(subjectBounds(FORM));
    expect(backdropsOf(mesh)).toEqual([SKY, GRASS]);
    expect(frameOfBackdrop(SKY)).toMatchObject({
      centre: [0, 0, -3],
      width: 8,
      height: 4,
      toward: [0, 0, 1],
    });
    expect(() => checkBackdropOrder(mesh)).not.toThrow();
  });

  it.each([
    ['a sheet of the model’s', { ...SKY, sheet: 0 }],
    ['a name that is taken', { ...SKY, name: FORM.parts[0]! }],
    ['no area', { ...SKY, corners: cornersOf({ ...frameOfBackdrop(SKY), width: 0 }) }],
  ])('are refused with %s', (_, backdrop) => {
    expect(() => withBackdrops(FORM, [backdrop])).toThrow(expect.objectContaining({ code: 'bad-argument' }));
  });

  it('that a damaged file names wrongly are told', () => {
    expect(() => checkBackdropOrder({ ...FORM, backdrops: 1 })).toThrow(
      expect.objectContaining({ code: 'model-bad-number' }),
    );
    const { faceParts } = withSky();
    const swapped = faceParts.slice().reverse();
    expect(() => checkBackdropOrder({ ...withSky(), faceParts: swapped })).toThrow(
      /says that 1 of its parts are backdrops/,
    );
  });

  it('cast no shadow and take none: every cue of the model is what it was', () => {
    const alone = measureSurface(FORM, [128]);
    const beside = measureSurface(withBoth(), [128, 64, 64]);
    const specs: CueSpec[] = [
      { cue: 'occlusion', rays: 16, reach: 0.5, fine: 1 },
      { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 },
    ];
    for (const spec of specs) {
      const values = measureCue(beside, spec);
      const before = measureCue(alone, spec);
      expect(values.subarray(0, before.length)).toEqual(before);
      expect(values.subarray(before.length).every((v) => v === 0)).toBe(true);
    }
  });

  it('are left bare by what is made from form, and have a local colour only where they were given one', () => {
    const engine = engineOn(withSky(), sheetsFor(1));
    engine.apply({
      do: 'add-layer',
      layer: { kind: 'wash', name: 'Wash', color: '#ff0000' },
      into: null,
      at: 2,
    });
    expect(compositeSheet(engine, 1).every((v) => v === 0)).toBe(true);
    expect(compositeSheet(engine, 0).some((v) => v > 0)).toBe(true);
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors: [['Sky', '#204060']] } });
    expect([...compositeSheet(engine, 1).subarray((32 * 64 + 32) * 4, (32 * 64 + 33) * 4)]).toEqual([
      0x20, 0x40, 0x60, 255,
    ]);
  });

  it('are painted on alone: a brush as wide as the gap reaches neither from one to the other', () => {
    const near: Backdrop = {
      ...SKY,
      corners: cornersOf({ ...frameOfBackdrop(SKY), centre: [0, 0, 1.02] }),
    };
    const engine = engineOn(withBackdrops(FORM, [near]), sheetsFor(1));
    paint(engine, onBall);
    expect([paintedOn(engine, 0) > 50, paintedOn(engine, 1)]).toEqual([true, 0]);
    const model = paintedOn(engine, 0);
    paint(engine, line([-1, 0, 1.02], [1, 0, 1.02], 0.4));
    expect([paintedOn(engine, 0), paintedOn(engine, 1) > 50]).toEqual([model, true]);
  });
});

describe('what goes over all of a layer', () => {
  it('leaves alone what isn’t in hand', () => {
    const engine = engineOn(withSky(), sheetsFor(1));
    engine.apply({ do: 'fill', layer: PAINT, channel: 'pixels', color: '#c83c14', except: ['Sky'] });
    expect([paintedOn(engine, 0) > 1000, paintedOn(engine, 1)]).toEqual([true, 0]);
    engine.undo();
    engine.apply({ do: 'fill', layer: PAINT, channel: 'pixels', color: '#c83c14', except: ['Ball'] });
    expect([paintedOn(engine, 0), paintedOn(engine, 1) > 1000]).toEqual([0, true]);
    expect(backdropFaces(withSky())).toEqual([FORM.faceParts.length, 2]);
    expect(backdropFaces(FORM)).toEqual([]);
  });

  it('a mask of form covers nothing of them, also under what changes colours', () => {
    const engine = engineOn(withSky(), sheetsFor(1));
    paint(engine, onSky);
    const before = compositeSheet(engine, 1);
    const cue: CueSpec = { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 };
    const mask = [{ from: 'cue', join: 'multiply', levels: PLAIN_LEVELS, invert: true, cue }] as const;
    const change = { by: 'oklch', hue: 0, chroma: 0, lightness: 0 } as const;
    const at = engine.document.layers.length;
    engine.apply({
      do: 'add-layer',
      layer: { kind: 'adjust', name: 'Grey', change, mask: [...mask] } as NewLayer,
      into: null,
      at,
    });
    engine.setCue(cue, measureCue(engine.surface, cue));
    expect(compositeSheet(engine, 1)).toEqual(before);
  });
});

describe('backdrops that come, go and move', () => {
  it('change nothing of the model: strokes stay strokes, seams and regions stay', async () => {
    const engine = engineOn(FORM, sheetsFor(0), { seams: [3, 9] });
    paint(engine, onBall);
    const before = compositeSheet(engine, 0);
    const { carried } = await changeModel(engine, modelOf(withSky(), sheetsFor(1)), {
      patch: { sheets: sheetsFor(1) },
    });
    expect(carried).toMatchObject({ faces: { exact: true }, resampled: [], repainted: [] });
    expect(engine.document).toMatchObject({ seams: [3, 9], bases: [] });
    expect(compositeSheet(engine, 0)).toEqual(before);
    engine.undo();
    expect(engine.document.sheets).toHaveLength(1);
    expect(compositeSheet(engine, 0)).toEqual(before);
  });

  it('take their paint along: one that moves, one before it that goes', async () => {
    const engine = engineOn(withBoth(), sheetsFor(2));
    paint(engine, onSky);
    paint(engine, line([-1, -1, 1.5], [1, -1, 1.5], 0.3));
    const grass = compositeSheet(engine, 2);
    const sky = compositeSheet(engine, 1);
    expect([paintedOn(engine, 1) > 20, paintedOn(engine, 2) > 100]).toEqual([true, true]);
    const lifted: Backdrop = {
      ...GRASS,
      corners: cornersOf({ ...frameOfBackdrop(GRASS), centre: [0, -0.5, 2] }),
    };
    const moved = withBackdrops(FORM, [SKY, lifted]);
    expect((await changeModel(engine, modelOf(moved, sheetsFor(2)))).carried.resampled).toEqual([PAINT]);
    expect(compositeSheet(engine, 2)).toEqual(grass);
    // Another sheet size paints anew what is still strokes: what was moved isn't.
    const left = [sheetsFor(0)[0]!, sheetsFor(2)[2]!];
    const alone = withBackdrops(FORM, [{ ...lifted, sheet: 1 }]);
    await changeModel(engine, modelOf(alone, left), { patch: { sheets: left } });
    expect(compositeSheet(engine, 1)).toEqual(grass);
    engine.undo();
    expect([compositeSheet(engine, 1), compositeSheet(engine, 2)]).toEqual([sky, grass]);
  });

  it('are resampled where they get another shape', async () => {
    const engine = engineOn(withSky(), sheetsFor(1));
    paint(engine, line([-1, 0, -3], [1, 0, -3], 1));
    const before = paintedOn(engine, 1);
    const taller: Backdrop = { ...SKY, corners: cornersOf({ ...frameOfBackdrop(SKY), height: 8 }) };
    await changeModel(engine, modelOf(withBackdrops(FORM, [taller]), sheetsFor(1)));
    // Twice as high on the sheet, as it is on the plane.
    expect(paintedOn(engine, 1) / before).toBeGreaterThan(1.6);
    expect(paintedOn(engine, 1) / before).toBeLessThan(2.4);
  });

  it('come back from a project file as they were', () => {
    const engine = engineOn(withSky(), sheetsFor(1));
    paint(engine, onSky);
    const back = readProjectFile(
      writeProjectFile({
        document: engine.document,
        mesh: engine.mesh,
        ...engine.everything(),
        files: new Map(),
      }),
    );
    expect(meshHash(back.mesh)).toBe(meshHash(withSky()));
    expect(backdropsOf(back.mesh)).toEqual([SKY]);
  });
});

it('that were stored when there first were any open as they were', () => {
  const { mesh, document } = readProjectFile(readFileSync('tests/fixtures/v12/backdrop.project.zip'));
  expect(backdropsOf(mesh)).toEqual([SKY]);
  const engine = engineOn(mesh, document.sheets, document);
  expect([...compositeSheet(engine, 1).subarray((32 * 64 + 32) * 4, (32 * 64 + 33) * 4)]).toEqual([
    0x20, 0x40, 0x60, 255,
  ]);
});

describe('backdrops that leave', () => {
  const painted = (): Engine => {
    const engine = engineOn(withSky(), sheetsFor(1));
    paint(engine, onSky);
    paint(engine, onBall);
    return engine;
  };

  it('stay bare where they are bare, with the colour beside underneath', () => {
    const { rgba } = flattenAlbedo(painted(), { size: 64, bleed: Infinity }, 1);
    const at = (x: number, y: number): number[] => [...rgba.subarray((y * 64 + x) * 4, (y * 64 + x) * 4 + 4)];
    expect(at(32, 32)).toEqual([200, 60, 20, 255]);
    expect(at(32, 20)).toEqual([200, 60, 20, 0]);
    const [whole] = [flattenAlbedo(painted(), { size: 32, bleed: Infinity }, 1)];
    expect(whole.rgba[(16 * 32 + 16) * 4 + 3]).toBe(255);
    expect(whole.rgba[(10 * 32 + 16) * 4 + 3]).toBe(0);
  });

  it('are nodes of the model’s file that say so, cut out and without an outline', async () => {
    const engine = painted();
    const mesh = withSky();
    const pngs = [0, 1].map((k) => encodePng(flattenAlbedo(engine, { size: 64, bleed: Infinity }, k)));
    const glb = await writeUnlitGlb(mesh, 'Ball', pngs, {
      hull: hullOf(mesh, { width: 0.01, color: '#000000' }),
    });
    const { issues } = await validator.validateBytes(glb);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb);
    const nodes = document.getRoot().listNodes();
    expect(nodes.map((n) => n.getName())).toEqual(['Ball', 'Sky', 'Ball outline']);
    const materialOf = (k: number) => nodes[k]!.getMesh()!.listPrimitives()[0]!.getMaterial()!;
    expect(nodes.map((n) => n.getExtras())).toEqual([{}, { backdrop: true }, {}]);
    // glTF 2.0, section 3.9.4: MASK cuts out by the cutoff; 3.9.6: one-sided unless doubleSided.
    expect([
      materialOf(0).getAlphaMode(),
      materialOf(1).getAlphaMode(),
      materialOf(1).getDoubleSided(),
    ]).toEqual(['OPAQUE', 'MASK', false]);
  });

  it('are checked for what shows, not for what one looks through', () => {
    const engine = painted();
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors: [['Ball', '#808080']] } });
    const sheets = [0, 1].map((k) => ({ picture: flattenAlbedo(engine, { size: 64, bleed: Infinity }, k) }));
    const { findings } = checkDelivery(withSky(), sheets, USUAL_CHECK);
    expect(findings.filter((f) => f.sheet === 1)).toEqual([]);
  });
});

it('a new document has none', () => {
  expect(newDocument('Test', oneSheet(64)).sheets).toHaveLength(1);
  const surface = measureSurface(withSky(), [128, 64]);
  expect(filledTiles(surface).some((tile) => sheetOfTile(surface.sheets, tile) === 1)).toBe(true);
  expect(surface.codes.length % TILE_TEXELS).toBe(0);
});
