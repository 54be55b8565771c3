import { WebIO } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, modelOf, PAINT, sortedTiles, RELAID, carryTo } from '../../tests/engines';
import { expanded } from '../../tests/expanded';
import { floorQuad, plate, quads } from '../../tests/shapes';
import { HARD, line, PLAIN_STROKE } from '../../tests/strokes';
import { measureCue } from '../cues';
import { encodePng, writeObj, writeUnlitGlb } from '../formats';
import {
  checkMesh,
  findIslands,
  meshHash,
  pieceOnSheet,
  putOnSheet,
  withoutSheet,
  type UvMesh,
} from '../mesh';
import { measureSurface, placeOfTexel, sheetOfTile, TILE_TEXELS } from '../surface';
import { applyLayoutEdit, layoutHeat, modelHealth } from '../unwrap';
import { compositeSheet } from './pictures/flatten';
import { newDocument, oneSheet, parseDocument, type ProjectDocument } from '../document';
import { readProjectFile, writeProjectFile } from '../project-file';

const ACROSS = line([-0.8, 0, 0], [0.8, 0, 0], 0.2, 16);

/** Two parts that meet at x = 0 and share the vertices there, one island on one sheet. */
function halves(): UvMesh {
  const whole = quads([floorQuad(2, [0, 0, 1, 1], 'Left')]);
  const x = [-1, 0, 1];
  const positions = x.flatMap((px) => [px, 0, 1, px, 0, -1]);
  return checkMesh({
    ...whole,
    positions: Float32Array.from(positions),
    normals: Float32Array.from({ length: 18 }, (_, i) => (i % 3 === 1 ? 1 : 0)),
    uvs: Float32Array.from(x.flatMap((px) => [(px + 1) / 2, 0, (px + 1) / 2, 1])),
    indices: Uint32Array.of(0, 2, 3, 0, 3, 1, 2, 4, 5, 2, 5, 3),
    faceParts: Uint16Array.of(0, 0, 1, 1),
    parts: ['Left', 'Right'],
  }) as UvMesh;
}

/** Top and underside, both filling a sheet of their own at the same place. */
const apart = (): UvMesh => {
  const mesh = plate(0.2, 'Under');
  return putOnSheet({ ...mesh, uvs: mesh.uvs.map((x) => (x > 0.5 ? x - 0.5 : x) * 2) }, [1], 1);
};

const twoSheets = (sizes: readonly [64 | 128, 64 | 128]): ProjectDocument['sheets'] => [
  ...oneSheet(sizes[0]),
  { name: 'Sheet 2', size: sizes[1] },
];

describe('a part on another sheet', () => {
  it('shares no vertex and no island with what stays', () => {
    const mesh = halves();
    expect(findIslands(mesh).count).toBe(1);
    const moved = putOnSheet(mesh, [1], 1);
    expect(findIslands(moved).count).toBe(2);
    expect(moved.positions.length / 3).toBe(8);
    expect(moved.partSheets).toEqual([0, 1]);
    expect(meshHash(moved)).not.toBe(meshHash(mesh));
    expect(putOnSheet(moved, [1], 0)).not.toHaveProperty('partSheets');
    expect(() => putOnSheet(mesh, [1], 8)).toThrow(expect.objectContaining({ code: 'bad-argument' }));
  });

  it('keeps its sheet from being removed; an empty one leaves the numbering', () => {
    const moved = putOnSheet(halves(), [1], 2);
    expect(() => withoutSheet(moved, 2)).toThrow(expect.objectContaining({ code: 'bad-argument' }));
    expect(withoutSheet(moved, 1).partSheets).toEqual([0, 1]);
  });

  it('is refused where the list of sheets is not one a part', () => {
    for (const partSheets of [[0], [0, 9], [0, NaN]]) {
      expect(() => checkMesh({ ...halves(), partSheets })).toThrow(
        expect.objectContaining({ code: 'model-bad-number' }),
      );
    }
  });
});

describe('a surface of several sheets', () => {
  it('is each sheet measured by itself, one after the other', () => {
    const mesh = apart();
    const both = measureSurface(mesh, [64, 128]);
    expect(both.overlappedTexels).toBe(0);
    for (const sheet of [0, 1]) {
      const { size, firstTile, ...measured } = both.sheets[sheet]!;
      const { mesh: piece, faces } = pieceOnSheet(mesh, sheet);
      const alone = measureSurface(piece, size);
      const [from, to] = [firstTile * TILE_TEXELS, firstTile * TILE_TEXELS + size * size];
      const [all, own] = [expanded(both), expanded(alone)];
      expect(all.px.subarray(from, to)).toEqual(own.px);
      expect(all.nz.subarray(from, to)).toEqual(own.nz);
      expect(all.face.subarray(from, to)).toEqual(own.face.map((f) => (f < 0 ? f : faces[f]!)));
      expect(measured).toEqual({
        coveredTexels: alone.coveredTexels,
        overlappedTexels: 0,
        texelLength: alone.sheets[0]!.texelLength,
      });
    }
    expect(() => measureSurface(mesh, [64])).toThrow(expect.objectContaining({ code: 'bad-argument' }));
  });

  it('knows of a tile and a texel where they lie', () => {
    const { sheets } = measureSurface(apart(), [64, 128]);
    expect([0, 1, 4].map((t) => sheetOfTile(sheets, t))).toEqual([0, 1, 1]);
    expect(placeOfTexel(sheets, TILE_TEXELS * 2)).toEqual({ sheet: 1, x: 64, y: 0 });
  });

  it('has the same cues as on one sheet: rays meet all parts, whatever sheet they lie on', () => {
    const stacked = (sheet: number): UvMesh => {
      const mesh = quads([
        floorQuad(2, [0.05, 0.05, 0.45, 0.45]),
        {
          part: 'Roof',
          corners: [
            [-1, 0.5, -1],
            [0, 0.5, -1],
            [0, 0.5, 1],
            [-1, 0.5, 1],
          ],
          place: [0.55, 0.55, 0.95, 0.95],
        },
      ]);
      return putOnSheet(mesh, [1], sheet);
    };
    const spec = { cue: 'occlusion', rays: 32, reach: null, fine: 0 } as const;
    const one = measureSurface(stacked(0), 128);
    const two = measureSurface(stacked(1), [128, 128]);
    const onOne = measureCue(one, spec);
    const onTwo = measureCue(two, spec);
    const dense = (map: typeof one, cue: Uint16Array, tile: number): Uint16Array => {
      const slot = map.slotOfTile[tile]!;
      return slot < 0
        ? new Uint16Array(TILE_TEXELS)
        : cue.subarray(slot * TILE_TEXELS, (slot + 1) * TILE_TEXELS);
    };
    for (let tile = 0; tile < 4; tile++) {
      const [floorOnly, roofOnly] = [dense(two, onTwo, tile), dense(two, onTwo, tile + 4)];
      expect(floorOnly.map((x, i) => x + roofOnly[i]!)).toEqual(dense(one, onOne, tile).slice());
    }
    expect(Math.min(...onOne.filter((x) => x > 0))).toBeLessThan(40000);
  });
});

describe('paint on several sheets', () => {
  it('a stroke runs from one sheet onto the next', () => {
    const engine = engineOn(putOnSheet(halves(), [1], 1), twoSheets([128, 128]));
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [ACROSS] } });
    const one = engineOn(halves(), oneSheet(128));
    one.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [ACROSS] } });
    const whole = compositeSheet(one);
    const [left, right] = [compositeSheet(engine, 0), compositeSheet(engine, 1)];
    let painted = 0;
    for (let y = 0; y < 128; y++) {
      for (let x = 0; x < 128; x++) {
        const o = (y * 128 + x) * 4;
        const now = x < 64 ? left : right;
        expect([...now.subarray(o, o + 4)]).toEqual([...whole.subarray(o, o + 4)]);
        if (now[o] === 0xc8) painted++;
      }
    }
    expect(painted).toBeGreaterThan(1000);
  });

  it('follows a part to another sheet as one step, and back', async () => {
    const engine = engineOn(halves(), oneSheet(128));
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [ACROSS] } });
    const before = compositeSheet(engine);
    const sheets = twoSheets([128, 64]);
    const to = modelOf(putOnSheet(halves(), [1], 1), sheets);
    const { from } = engine.beginChange();
    const { paintedAt } = engine.paintPlanes();
    const half = {
      label: 'Move',
      from,
      paintedAt,
      model: to,
      patch: {},
      how: RELAID,
      carried: carryTo(engine, to),
    };
    expect(() => engine.changeModel(half)).toThrow(/measured at other sizes/);
    const { carried } = await changeModel(engine, to, { patch: { sheets } });
    expect(carried.repainted).toEqual([PAINT]);
    expect(carried.loss.mean).toBeLessThan(3);
    // The left half stays to the texel; of the right half the middle of the stroke is there at half the size.
    const left = compositeSheet(engine, 0);
    const texel = (rows: Uint8Array, size: number, x: number, y: number): number[] => [
      ...rows.subarray((y * size + x) * 4, (y * size + x) * 4 + 4),
    ];
    expect(texel(left, 128, 40, 64)).toEqual(texel(before, 128, 40, 64));
    expect(texel(compositeSheet(engine, 1), 64, 44, 32)).toEqual([200, 60, 20, 255]);
    engine.undo();
    expect(engine.document.sheets).toHaveLength(1);
    expect(compositeSheet(engine)).toEqual(before);
  });

  it('comes back from a project file to the last texel', () => {
    const engine = engineOn(putOnSheet(halves(), [1], 1), twoSheets([128, 64]));
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [ACROSS] } });
    engine.apply({ do: 'rename-sheet', sheet: 1, name: 'Right side' });
    const back = readProjectFile(
      writeProjectFile({
        document: engine.document,
        mesh: engine.mesh,
        ...engine.everything(),
        files: new Map(),
      }),
    );
    expect(back.document).toEqual(engine.document);
    expect(back.mesh.partSheets).toEqual([0, 1]);
    expect(sortedTiles(back.pixels)).toEqual(sortedTiles(engine.tilesOf(PAINT)));
  });

  it('is as fine as the sheet that it lies on: another sheet’s size changes nothing on this one', () => {
    const thin = { ...PLAIN_STROKE, brush: HARD, runs: [line([-0.8, 0, 0], [0.8, 0, 0], 1e-6, 16)] };
    const left = (sizes: readonly [64 | 128, 64 | 128]): Uint8Array => {
      const engine = engineOn(putOnSheet(halves(), [1], 1), twoSheets(sizes));
      engine.apply({ do: 'stroke', layer: PAINT, stroke: thin });
      return compositeSheet(engine, 0);
    };
    expect(left([128, 64])).toEqual(left([128, 128]));
    // The thinnest brush leaves a mark on the coarse sheet, too, in every column that it crosses.
    const engine = engineOn(putOnSheet(halves(), [1], 1), twoSheets([128, 64]));
    engine.apply({ do: 'stroke', layer: PAINT, stroke: thin });
    const right = compositeSheet(engine, 1);
    for (let x = 34; x < 56; x++) {
      const column = Array.from({ length: 64 }, (_, y) => right[(y * 64 + x) * 4]!);
      expect(column.some((r) => r > 0xb6)).toBe(true);
    }
  });

  it('is read from projects that named the size of their only sheet', () => {
    const { lights, palette, references } = newDocument('Old', 512);
    const older = {
      version: 1,
      name: 'Old',
      layers: [],
      light: lights[0]!.plan,
      palette,
      references,
      nextId: 3,
    };
    expect(parseDocument({ ...older, sheetSize: 512 }).sheets).toEqual(oneSheet(512));
    expect(() => parseDocument({ ...older, sheetSize: 500 })).toThrow(
      expect.objectContaining({ code: 'document-invalid' }),
    );
  });

  it('refuses a name that another sheet has', () => {
    const engine = engineOn(apart(), twoSheets([64, 64]));
    expect(() => engine.apply({ do: 'rename-sheet', sheet: 1, name: 'Sheet 1' })).toThrow(
      /Choose another name/,
    );
    expect(() => engine.apply({ do: 'rename-sheet', sheet: 2, name: 'Other' })).toThrow(/no longer there/);
  });
});

describe('layouts of several sheets', () => {
  it('do not overlap one another, and are compared in texels', () => {
    const mesh = apart();
    const found = modelHealth(mesh, [64, 128]).map((f) => f.kind);
    expect(found).not.toContain('overlapping');
    // The underside has twice the texels a length: half the mean above, and the other way round.
    const { values } = layoutHeat(mesh, 'density', [64, 128]);
    expect(values[4]! - values[0]!).toBeCloseTo(0.5, 4);
  });

  it('are packed one by one: the other sheet stays', () => {
    const mesh = apart();
    const how = { margin: 8, even: true, arrange: 'tightest' as const, weights: new Map(), pins: [] };
    const uvOf = (m: UvMesh, sheet: number): number[] => {
      const { mesh: piece } = pieceOnSheet(m, sheet);
      return Array.from(piece.indices, (v) => [m.uvs[v * 2]!, m.uvs[v * 2 + 1]!]).flat();
    };
    const packed = applyLayoutEdit(mesh, { do: 'pack', how, sizes: [64, 128], sheet: 1 });
    expect(uvOf(packed, 0)).toEqual(uvOf(mesh, 0));
    expect(uvOf(packed, 1)).not.toEqual(uvOf(mesh, 1));
    const laidOut = applyLayoutEdit(mesh, {
      do: 'unwrap',
      how: { margin: 8, seams: 'auto' },
      sizes: [64, 128],
      sheet: null,
    });
    for (const sheet of [0, 1]) {
      const uv = uvOf(laidOut, sheet);
      expect(Math.max(...uv)).toBeLessThanOrEqual(1);
      // A square alone on its sheet fills it but for the margin.
      expect(Math.max(...uv) - Math.min(...uv)).toBeGreaterThan(0.7);
    }
  });

  it('are delivered as a material a sheet', async () => {
    const mesh = apart();
    const png = (grey: number): Uint8Array =>
      encodePng({ width: 1, height: 1, rgba: Uint8Array.of(grey, grey, grey, 255) });
    const glb = await writeUnlitGlb(mesh, 'Plate', [png(10), png(200)]);
    const document = await new WebIO().registerExtensions([KHRMaterialsUnlit]).readBinary(glb);
    const textureOf = (part: string): string | undefined =>
      document
        .getRoot()
        .listNodes()
        .find((n) => n.getName() === part)
        ?.getMesh()
        ?.listPrimitives()[0]
        ?.getMaterial()
        ?.getBaseColorTexture()
        ?.getName();
    expect(textureOf('Plate')).toBe('Plate albedo');
    expect(textureOf('Under')).toBe('Plate 2 albedo');
    expect(writeObj(mesh, 'Plate').match(/^usemtl .*$/gm)).toEqual(['usemtl sheet_1', 'usemtl sheet_2']);
  });
});
