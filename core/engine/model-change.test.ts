import { describe, expect, it } from 'vitest';
import { floor, plate, quads, floorQuad, seamedFloor, together } from '../../tests/shapes';
import { PLAIN_STROKE } from '../../tests/strokes';
import { importModel } from '../formats';
import { createWasmKernels } from '../kernels';
import {
  mergeParts,
  meshHash,
  placeMesh,
  renamePart,
  splitFaces,
  splitLoose,
  topologyOf,
  type UvMesh,
} from '../mesh';
import { measureSurface, texelIndex } from '../surface';
import { cornerUvs, moveFaces, sheetMove, withCornerUvs } from '../unwrap';
import {
  basePaintTiles,
  carryPaint,
  compositeSheet,
  Engine,
  newDocument,
  oneSheet,
  type Carried,
  type CarryLayer,
  type ModelState,
} from '.';

const PAINT = 2;
const SAMPLES = Array.from({ length: 13 }, (_, i) => [
  -0.7 + (i / 12) * 1.4,
  0,
  0.1,
  0,
  1,
  0,
  0.25,
  1,
]).flat();

const stateOf = (mesh: UvMesh, size: number): ModelState => ({
  hash: meshHash(mesh),
  mesh,
  surface: measureSurface(mesh, size),
});

function engineOn(mesh: UvMesh, size: 64 | 128 | 256 = 128): Engine {
  const { surface, hash } = stateOf(mesh, size);
  return new Engine({
    mesh,
    surface,
    kernels: createWasmKernels(),
    document: { ...newDocument('Test', size), model: hash },
  });
}

const layersOf = (engine: Engine): CarryLayer[] => [
  {
    id: PAINT,
    tiles: new Map([...engine.tilesOf(PAINT)].map(({ tile, bytes }) => [tile, bytes!])),
    strokes: engine.strokesOf(PAINT),
  },
];

function carryTo(engine: Engine, to: ModelState, byTriangle = true): Carried {
  return carryPaint({
    from: { mesh: engine.mesh, surface: engine.surface },
    to,
    layers: layersOf(engine),
    byTriangle,
    renamed: engine.document.renamed,
    regions: engine.document.regions,
    kernels: createWasmKernels(),
  });
}

/** The same floor with its layout turned by a quarter and made smaller. */
const relaid = (mesh: UvMesh): UvMesh =>
  moveFaces(mesh, () => sheetMove([0.5, 0.5], { turn: Math.PI / 2, scaleU: 0.8, scaleV: 0.8 }));

describe('paint follows', () => {
  it('a layer of strokes is painted again, the same as if it had been painted there', () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const to = stateOf(relaid(seamedFloor()), 128);
    const carried = carryTo(engine, to);
    expect(carried).toMatchObject({ repainted: [PAINT], resampled: [] });
    const there = engineOn(to.mesh);
    there.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const tiles = (list: Iterable<{ tile: number; bytes: Uint8Array | null }>) =>
      [...list].map(({ tile, bytes }) => [tile, bytes] as const).sort((a, b) => a[0] - b[0]);
    expect(tiles(carried.pixels)).toEqual(tiles(there.tilesOf(PAINT)));
    expect(carried.loss!.mean).toBeLessThan(6);
  });

  it('pixels that no strokes account for are resampled, and the loss is told', () => {
    const engine = engineOn(floor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    engine.apply({
      do: 'add-layer',
      layer: { kind: 'paint', id: 0, name: 'Copy', visible: true, opacity: 1, blend: 'normal' },
      at: 2,
      copyPixelsOf: PAINT,
    });
    const copy = engine.document.nextId - 1;
    const layers = [
      {
        id: copy,
        tiles: new Map([...engine.tilesOf(copy)].map(({ tile, bytes }) => [tile, bytes!])),
        strokes: engine.strokesOf(copy),
      },
    ];
    const to = stateOf(relaid(floor()), 256);
    const carried = carryPaint({
      from: { mesh: engine.mesh, surface: engine.surface },
      to,
      layers,
      byTriangle: true,
      renamed: {},
      regions: [],
      kernels: createWasmKernels(),
    });
    expect(carried).toMatchObject({ repainted: [], resampled: [copy] });
    expect(carried.loss!.mean).toBeLessThan(1);
    expect(carried.loss!.most).toBeLessThan(8);
    // The middle of the stroke has its colour at the same place of the surface.
    const i = to.surface.face.findIndex(
      (f, t) => f >= 0 && Math.hypot(to.surface.px[t]!, to.surface.pz[t]! - 0.1) < 0.02,
    );
    const bytes = carried.pixels.find((p) => p.tile === Math.floor(i / 4096))!.bytes!;
    expect([...bytes.subarray((i % 4096) * 4, (i % 4096) * 4 + 4)]).toEqual([0xc8, 0x3c, 0x14, 255]);
  });

  it('a scaled model keeps its paint by its triangles, a new one by part and place', () => {
    const engine = engineOn(floor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const scaled = carryTo(engine, stateOf(placeMesh(floor(), { scale: 100 }), 128));
    expect(scaled.loss!.mean).toBeCloseTo(0, 6);
    const finer = quads([
      {
        ...floorQuad(2, [0, 0, 0.5, 1]),
        corners: [
          [-1, 0, 1],
          [0, 0, 1],
          [0, 0, -1],
          [-1, 0, -1],
        ],
      },
      {
        ...floorQuad(2, [0.5, 0, 1, 1]),
        corners: [
          [0, 0.01, 1],
          [1, 0.01, 1],
          [1, 0.01, -1],
          [0, 0.01, -1],
        ],
      },
    ]);
    const replaced = carryTo(engine, stateOf(finer, 128), false);
    expect(replaced.unmatched).toEqual([]);
    expect(replaced.pixels.length).toBeGreaterThan(0);
    const far = { ...finer, positions: finer.positions.map((x, i) => (i % 3 === 1 ? x + 5 : x)) };
    expect(carryTo(engine, stateOf(far, 128), false).unmatched).toEqual(['Floor']);
  });

  it('is one step that is undone and done again, layout, size and pixels', () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const before = compositeSheet(engine);
    const to = stateOf(relaid(seamedFloor()), 256);
    engine.changeModel({
      label: 'Lay out',
      model: to,
      patch: { seams: [3], sheets: oneSheet(256) },
      pixels: carryTo(engine, to).pixels,
    });
    expect(engine.document).toMatchObject({ model: to.hash, sheets: oneSheet(256), seams: [3] });
    const after = compositeSheet(engine);
    expect(after.length).toBe(256 * 256 * 4);
    expect(engine.modelNeeded('undo')).toBeNull();
    engine.undo();
    expect(engine.document).toMatchObject({ sheets: oneSheet(128), seams: [] });
    expect(compositeSheet(engine)).toEqual(before);
    engine.redo();
    expect(compositeSheet(engine)).toEqual(after);
    // A stroke on the new layout, and everything back to the beginning.
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...PLAIN_STROKE, runs: [SAMPLES.map((x, i) => (i % 8 === 2 ? -0.4 : x))] },
    });
    for (let i = 0; i < 3; i++) expect(engine.undo()).toBe(true);
    expect([...engine.tilesOf(PAINT)]).toEqual([]);
    expect(engine.mesh.uvs).toEqual(seamedFloor().uvs);
  });

  it('names the model that a step needs, and changes nothing without it', () => {
    const first = engineOn(floor());
    const to = stateOf(relaid(floor()), 128);
    first.changeModel({ label: 'Lay out', model: to, patch: {}, pixels: [] });
    const opened = new Engine({
      mesh: to.mesh,
      surface: to.surface,
      kernels: createWasmKernels(),
      document: first.document,
      history: first.history,
    });
    expect(opened.modelNeeded('undo')).toEqual({ hash: meshHash(floor()), sizes: [128] });
    expect(() => opened.undo()).toThrow(expect.objectContaining({ code: 'storage-damaged' }));
    expect(opened.document).toEqual(first.document);
    opened.provideModel(stateOf(floor(), 128));
    expect(opened.undo()).toBe(true);
    expect(opened.document.model).toBe(meshHash(floor()));
  });

  it('strokes that stay within a part stay there after it is renamed', () => {
    const mesh = plate(0.2, 'Under');
    const engine = engineOn(mesh);
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, part: 'Plate', runs: [SAMPLES] } });
    const renamed = renamePart(mesh, mesh.parts.indexOf('Plate'), 'Cover');
    const to = stateOf(renamed, 128);
    const carried = carryPaint({
      from: { mesh, surface: engine.surface },
      to,
      layers: layersOf(engine),
      byTriangle: true,
      renamed: { Plate: 'Cover' },
      regions: [],
      kernels: createWasmKernels(),
    });
    expect(carried.loss!.mean).toBeCloseTo(0, 6);
  });
});

describe('parts', () => {
  const two = () => together(plate(0.2, 'A'), plate(0.2, 'B'));

  it('are renamed, unless the name is empty or taken', () => {
    const mesh = two();
    expect(renamePart(mesh, 0, '  Lid ').parts[0]).toBe('Lid');
    expect(() => renamePart(mesh, 0, mesh.parts[1]!)).toThrow(/called/);
    expect(() => renamePart(mesh, 0, ' ')).toThrow(/needs a name/);
  });

  it('are merged into the first, and split again by loose piece', () => {
    const mesh = two();
    const merged = mergeParts(mesh, [1, 0]);
    expect(merged.parts).not.toContain(mesh.parts[0]);
    expect(new Set(merged.faceParts).size).toBe(mesh.parts.length - 1);
    const split = splitLoose(merged, merged.parts.indexOf(mesh.parts[1]!), topologyOf(merged));
    expect(split.parts.length).toBeGreaterThanOrEqual(2);
    expect(split.indices).toEqual(mesh.indices);
    expect(Math.max(...split.faceParts)).toBe(split.parts.length - 1);
  });

  it('are split by what is chosen', () => {
    const mesh = floor();
    const split = splitFaces(mesh, new Set([1]));
    expect([...split.faceParts]).toEqual([0, 1]);
    expect(split.parts).toEqual(['Floor', 'Floor 2']);
    expect(() => splitFaces(mesh, new Set([0, 1]))).toThrow(/whole part/);
    expect(() => splitFaces(mesh, new Set())).toThrow(/Choose/);
  });

  it('four quarters bring a model back', () => {
    const mesh = plate(0.2);
    expect(placeMesh(mesh, { quarters: 4 }).positions).toEqual(mesh.positions);
    const up = placeMesh(mesh, { quarters: 1 });
    expect(up.positions).not.toEqual(mesh.positions);
  });
});

describe('the colours that a model brings', () => {
  it('a picture lies on the sheet where its UVs say, texel by texel', () => {
    const rgba = new Uint8Array(64 * 64 * 4);
    for (let i = 0; i < 64 * 64; i++) rgba.set([i % 64, Math.floor(i / 64), 200, 255], i * 4);
    const mesh = floor();
    const surface = measureSurface(mesh, 64);
    const tiles = basePaintTiles(mesh, surface, {
      pictures: [{ width: 64, height: 64, rgba }],
      pictureUvs: null,
      cornerColors: null,
    });
    for (const [x, y] of [
      [5, 7],
      [33, 60],
      [63, 0],
    ] as const) {
      const i = texelIndex(64, x, y);
      expect([...tiles.get(0)!.subarray((i % 4096) * 4, (i % 4096) * 4 + 4)]).toEqual([x, y, 200, 255]);
    }
  });

  it('a picture goes along when the model has got another layout than it was made for', () => {
    const rgba = new Uint8Array(64 * 64 * 4);
    for (let i = 0; i < 64 * 64; i++) rgba.set([(i % 64) * 4, Math.floor(i / 64) * 4, 200, 255], i * 4);
    const made = floor();
    const uvs = cornerUvs(made);
    // A quarter as large, in the upper right.
    const mesh = withCornerUvs(
      made,
      uvs.map((x) => x / 2 + 0.5),
    );
    const tiles = basePaintTiles(mesh, measureSurface(mesh, 64), {
      pictures: [{ width: 64, height: 64, rgba }],
      pictureUvs: uvs,
      cornerColors: null,
    });
    for (const [x, y] of [
      [40, 7],
      [50, 20],
    ] as const) {
      const i = texelIndex(64, x, y);
      const [r, g] = tiles.get(0)!.subarray((i % 4096) * 4);
      // The middle of the texel, in pixels of the picture.
      expect(Math.abs(r! - ((x - 32 + 0.5) * 2 - 0.5) * 4)).toBeLessThan(1);
      expect(Math.abs(g! - ((y + 0.5) * 2 - 0.5) * 4)).toBeLessThan(1);
    }
  });

  it('colours of vertices are mixed over their triangles', () => {
    const mesh = floor();
    const cornerColors = new Uint8Array(mesh.indices.length * 4);
    mesh.indices.forEach((v, c) => cornerColors.set([mesh.uvs[v * 2]! * 255, 0, 0, 255], c * 4));
    const tiles = basePaintTiles(mesh, measureSurface(mesh, 64), {
      pictures: [null],
      pictureUvs: null,
      cornerColors,
    });
    const i = texelIndex(64, 32, 20);
    expect(Math.abs(tiles.get(0)![(i % 4096) * 4]! - (32.5 / 64) * 255)).toBeLessThan(1.5);
  });

  it('are read from OBJ with MTL, and from colours after its vertices', async () => {
    const obj =
      'mtllib a.mtl\no Wall\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl Red\nf 1/1 2/2 3/3\n';
    const mtl = new TextEncoder().encode('newmtl Red\nKd 1 0 0.5\nmap_Kd -s 1 1 1 wall.png\n');
    const png = Uint8Array.of(0x89, 0x50, 0x4e, 0x47);
    const { paint } = await importModel(
      'a.obj',
      new TextEncoder().encode(obj),
      new Map([
        ['a.mtl', mtl],
        ['wall.png', png],
      ]),
    );
    expect(paint.colors).toEqual({ Wall: '#ff0080' });
    expect(paint.pictures).toEqual([png]);
    const colored = 'v 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 0 1 0 0 0 1\nf 1 2 3\n';
    const second = await importModel('b.obj', new TextEncoder().encode(colored));
    expect([...second.paint.cornerColors!]).toEqual([255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255]);
  });
});
