import { describe, expect, it } from 'vitest';
import { carryTo, changeModel, engineOn, modelOf, PAINT, sortedTiles } from '../../tests/engines';
import { expanded } from '../../tests/expanded';
import { floor, plate, quads, floorQuad, seamedFloor, together } from '../../tests/shapes';
import { line, PLAIN_STROKE } from '../../tests/strokes';
import { importModel } from '../formats';
import { createWasmKernels } from '../kernels';
import { seededRandom } from '../math';
import {
  mergeParts,
  meshHash,
  placeMesh,
  placingOf,
  renamePart,
  splitFaces,
  splitLoose,
  topologyOf,
  type UvMesh,
} from '../mesh';
import { measureSurface, texelIndex } from '../surface';
import { cornerUvs, moveFaces, sheetMove, withCornerUvs } from '../unwrap';
import { alignBoxes, basePaintTiles, vertexColorTiles } from '../model';
import { compositeSheet } from './pictures/flatten';
import { Engine } from './engine';
import { oneSheet } from '../document';

// No whole number of spacings, so that rounding doesn't decide on the last dab.
const across = (z: number): number[] => line([-0.7, 0, z], [0.683, 0, z], 0.25);
const SAMPLES = across(0.1);

/** The same floor with its layout turned by a quarter and made smaller. */
const relaid = (mesh: UvMesh): UvMesh =>
  moveFaces(mesh, () => sheetMove([0.5, 0.5], { turn: Math.PI / 2, scaleU: 0.8, scaleV: 0.8 }));

describe('paint follows', () => {
  it('a layer of strokes is painted again, the same as if it had been painted there', () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const to = modelOf(relaid(seamedFloor()));
    const carried = carryTo(engine, to);
    expect(carried).toMatchObject({ repainted: [PAINT], resampled: [] });
    const there = engineOn(to.surface.mesh);
    there.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    expect(sortedTiles(carried.planes[0]!.pixels)).toEqual(sortedTiles(there.tilesOf(PAINT)));
    expect(carried.loss.mean).toBeLessThan(6);
  });

  it('pixels that no strokes account for are resampled, and the loss is told', () => {
    const engine = engineOn(floor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const [copy] = engine.apply({
      do: 'add-layer',
      layer: { kind: 'paint', name: 'Copy' },
      at: 2,
      copyPixelsOf: PAINT,
    }).ids;
    engine.apply({ do: 'remove-layers', layers: [PAINT] });
    const to = modelOf(relaid(floor()), 256);
    const carried = carryTo(engine, to);
    expect(carried).toMatchObject({ repainted: [], resampled: [copy] });
    expect(carried.loss.mean).toBeLessThan(1);
    expect(carried.loss.most).toBeLessThan(8);
    // The middle of the stroke has its colour at the same place of the surface.
    const at = expanded(to.surface);
    const i = at.face.findIndex((f, t) => f >= 0 && Math.hypot(at.px[t]!, at.pz[t]! - 0.1) < 0.02);
    const bytes = carried.planes
      .find((p) => p.plane === copy)!
      .pixels.find((p) => p.tile === Math.floor(i / 4096))!.bytes!;
    expect([...bytes.subarray((i % 4096) * 4, (i % 4096) * 4 + 4)]).toEqual([0xc8, 0x3c, 0x14, 255]);
  });

  it('a scaled model keeps its paint by its triangles, a new one by part and place', () => {
    const engine = engineOn(floor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const placing = placingOf({ scale: 100 });
    const scaled = carryTo(engine, modelOf(placeMesh(floor(), { scale: 100 })), { placing });
    expect(scaled).toMatchObject({ repainted: [], resampled: [], unmatched: [] });
    expect(sortedTiles(scaled.planes[0]!.pixels)).toEqual(sortedTiles(engine.tilesOf(PAINT)));
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
    const replaced = carryTo(engine, modelOf(finer), { byTriangle: false });
    expect(replaced.unmatched).toEqual([]);
    expect(replaced.loss).toMatchObject({ lost: 0, worst: null });
    expect(replaced.planes[0]!.pixels.length).toBeGreaterThan(0);
    const far = { ...finer, positions: finer.positions.map((x, i) => (i % 3 === 1 ? x + 5 : x)) };
    const gone = carryTo(engine, modelOf(far), { byTriangle: false });
    expect(gone.unmatched).toEqual(['Floor']);
    // All that was painted has no place any more, and that is told.
    expect(gone.loss.places).toBeGreaterThan(100);
    // What is thin there differs by little, wherever it goes, and the outermost texel has bare ones beside it.
    expect(gone.loss.lost).toBeGreaterThan(0.7);
    expect(gone.loss.worst).not.toBeNull();
  });

  it('is one step that is undone and done again, layout, size and pixels', async () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const before = compositeSheet(engine);
    const to = modelOf(relaid(seamedFloor()), 256);
    await changeModel(engine, to, { patch: { seams: [3], sheets: oneSheet(256) } });
    expect(engine.document).toMatchObject({ model: to.hash, sheets: oneSheet(256), seams: [3] });
    const after = compositeSheet(engine);
    expect(after.length).toBe(256 * 256 * 4);
    expect(engine.needed('undo')).toEqual({ model: null, step: null });
    engine.undo();
    expect(engine.document).toMatchObject({ sheets: oneSheet(128), seams: [] });
    expect(compositeSheet(engine)).toEqual(before);
    engine.redo();
    expect(compositeSheet(engine)).toEqual(after);
    // A stroke on the new layout, and everything back to the beginning.
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...PLAIN_STROKE, runs: [across(-0.4)] },
    });
    for (let i = 0; i < 3; i++) expect(engine.undo()).toBe(true);
    expect([...engine.tilesOf(PAINT)]).toEqual([]);
    expect(engine.mesh.uvs).toEqual(seamedFloor().uvs);
  });

  it('names the model that a step needs, and changes nothing without it', async () => {
    const first = engineOn(floor());
    const to = modelOf(relaid(floor()));
    await changeModel(first, to);
    const opened = new Engine({
      surface: to.surface,
      kernels: createWasmKernels(),
      document: first.document,
      history: first.historyData,
    });
    expect(opened.needed('undo').model).toEqual({ hash: meshHash(floor()), sizes: [128] });
    expect(() => opened.undo()).toThrow(expect.objectContaining({ code: 'storage-damaged' }));
    expect(opened.document).toEqual(first.document);
    opened.provideModel(modelOf(floor()));
    expect(opened.undo()).toBe(true);
    expect(opened.document.model).toBe(meshHash(floor()));
  });

  it('a stroke with what lies under it is carried as both: what was baked is resampled once, the stroke made again', async () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'fill', layer: PAINT, color: '#2040a0' });
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const to = modelOf(relaid(seamedFloor()));
    const { carried } = await changeModel(engine, to);
    expect(carried).toMatchObject({ repainted: [PAINT], resampled: [PAINT] });
    const there = engineOn(relaid(seamedFloor()));
    there.apply({ do: 'fill', layer: PAINT, color: '#2040a0' });
    there.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    expect(compositeSheet(engine)).toEqual(compositeSheet(there));
    // And so it stays repaintable: back to the first layout, where nothing has been lost.
    await changeModel(engine, modelOf(seamedFloor()));
    const first = engineOn(seamedFloor());
    first.apply({ do: 'fill', layer: PAINT, color: '#2040a0' });
    first.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    expect(compositeSheet(engine)).toEqual(compositeSheet(first));
  });

  it.each(['split', 'merged', 'renamed'])('guards hold what they held when parts are %s', async (how) => {
    const mesh = plate(0.2, 'Under');
    const engine = engineOn(mesh);
    const top = mesh.parts.indexOf('Plate');
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      guard: { part: 'Plate' },
      stroke: { ...PLAIN_STROKE, nearSide: false, runs: [SAMPLES] },
    });
    const painted = sortedTiles(engine.tilesOf(PAINT));
    const one = mesh.faceParts.findIndex((p) => p === top);
    const changed =
      how === 'split'
        ? splitFaces(mesh, new Set([one]))
        : how === 'merged'
          ? mergeParts(mesh, [1, 0])
          : renamePart(mesh, top, 'Cover');
    await changeModel(engine, modelOf(changed));
    // The layout is the same: every texel is.
    expect(sortedTiles(engine.tilesOf(PAINT))).toEqual(painted);
    // On another layout too: painted again, to what it would have been there.
    await changeModel(engine, modelOf(relaid(changed)));
    const there = engineOn(relaid(mesh));
    there.apply({
      do: 'stroke',
      layer: PAINT,
      guard: { part: 'Plate' },
      stroke: { ...PLAIN_STROKE, nearSide: false, runs: [SAMPLES] },
    });
    expect(sortedTiles(engine.tilesOf(PAINT))).toEqual(sortedTiles(there.tilesOf(PAINT)));
  });

  it('strokes follow every placing of the model', async () => {
    const engine = engineOn(seamedFloor());
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const painted = compositeSheet(engine);
    const how = { scale: 100, up: '+z', front: '-y' } as const;
    const placed = placeMesh(seamedFloor(), how);
    const placing = placingOf(how);
    expect(placing).toEqual([100, 0, 0, 0, 0, 0, 100, 0, 0, -100, 0, 0]);
    const { carried } = await changeModel(engine, modelOf(placed), { placing });
    expect(carried.resampled).toEqual([]);
    expect(compositeSheet(engine)).toEqual(painted);
    // Laid out anew they are made again, a hundred times as large.
    const again = await changeModel(engine, modelOf(relaid(placed)));
    expect(again.carried).toMatchObject({ repainted: [PAINT], resampled: [] });
    const there = engineOn(relaid(seamedFloor()));
    there.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const [a, b] = [compositeSheet(engine), compositeSheet(there)];
    // Places are rounded to 32 bits at another size: a step of 255 at the most.
    expect(a.every((x, i) => Math.abs(x - b[i]!) <= 1)).toBe(true);
  });

  it.each([
    ['a hundred times as large', 100],
    ['in metres instead of centimetres', 0.01],
  ])('a model that comes back %s keeps its paint', async (_what, scale) => {
    const engine = engineOn(plate(0.2));
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...PLAIN_STROKE, runs: [SAMPLES] } });
    const painted = sortedTiles(engine.tilesOf(PAINT));
    const other = placeMesh(plate(0.2), { scale });
    const { placing, certain, times } = alignBoxes(engine.mesh, other);
    expect(certain).toBe(true);
    expect(times).toBeCloseTo(scale, 6);
    const { carried } = await changeModel(engine, modelOf(other), { byTriangle: false, align: placing });
    expect(carried.unmatched).toEqual([]);
    const now = sortedTiles(engine.tilesOf(PAINT));
    expect(now.map(([tile]) => tile)).toEqual(painted.map(([tile]) => tile));
    const alpha = (tiles: typeof now): number =>
      tiles.reduce((sum, [, bytes]) => sum + bytes!.reduce((n, b, i) => n + (i % 4 === 3 ? b : 0), 0), 0);
    expect(alpha(now) / alpha(painted)).toBeCloseTo(1, 2);
  });

  it('a model of another shape is doubtful, one in the same place is left there', () => {
    expect(alignBoxes(floor(), floor())).toMatchObject({ certain: true, times: 1 });
    const high = {
      ...plate(0.2),
      positions: plate(0.2).positions.map((x, i) => (i % 3 === 1 ? x * 50 : x * 9)),
    };
    expect(alignBoxes(plate(0.2), high).certain).toBe(false);
  });
});

describe('painting goes on while the model is being changed', () => {
  const stroke = (z: number) => ({
    do: 'stroke' as const,
    layer: PAINT,
    stroke: { ...PLAIN_STROKE, runs: [across(z)] },
  });

  it('what was painted since is carried too', async () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0.1));
    const { tries } = await changeModel(engine, modelOf(relaid(seamedFloor())), {
      meanwhile: () => {
        engine.apply(stroke(-0.4));
        engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'New' }, at: 2 });
        engine.apply({ ...stroke(0.5), layer: 3 });
      },
    });
    expect(tries).toMatchObject([{ done: true }]);
    const there = engineOn(relaid(seamedFloor()));
    there.apply(stroke(0.1));
    there.apply(stroke(-0.4));
    there.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'New' }, at: 2 });
    there.apply({ ...stroke(0.5), layer: 3 });
    expect(compositeSheet(engine)).toEqual(compositeSheet(there));
    expect(engine.strokeCount()).toBe(3);
  });

  it('of two changes begun one after the other the second is begun again', async () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(0.1));
    let first: Awaited<ReturnType<typeof changeModel>> | null = null;
    const second = await changeModel(engine, modelOf(renamePart(seamedFloor(), 0, 'Yard')), {
      meanwhile: async () => {
        first = await changeModel(engine, modelOf(relaid(seamedFloor())));
      },
    });
    expect(first!.tries).toMatchObject([{ done: true }]);
    expect(second.tries).toMatchObject([{ done: false, again: 'model' }, { done: true }]);
    expect(engine.mesh.parts).toEqual(['Yard']);
    expect(engine.history.labels).toHaveLength(3);
  });

  it('waits for the stroke in hand', async () => {
    const engine = engineOn(seamedFloor());
    const to = modelOf(relaid(seamedFloor()));
    const { tries } = await changeModel(engine, to, {
      meanwhile: () => {
        engine.beginStroke(PAINT, PLAIN_STROKE);
        engine.extendStroke(SAMPLES, true);
      },
      rest: () => engine.endStroke(),
    });
    expect(tries).toMatchObject([{ done: false, again: 'stroke' }, { done: true }]);
    expect(engine.strokeCount()).toBe(1);
    expect(engine.document.model).toBe(to.hash);
  });

  it('is begun again where the seams were changed since, that it would set', async () => {
    const engine = engineOn(seamedFloor());
    const { tries } = await changeModel(engine, modelOf(relaid(seamedFloor())), {
      patch: { seams: [1] },
      meanwhile: () => engine.apply({ do: 'set-layout', seams: [3] }),
    });
    expect(tries).toMatchObject([{ done: false, again: 'model' }, { done: true }]);
    expect(engine.history.labels.slice(-2)).toEqual(['Change the seams', 'Change']);
  });

  it('25 changes of layout, size and model in the middle of painting lose no stroke', async () => {
    const engine = engineOn(seamedFloor());
    const random = seededRandom(25);
    let mesh: UvMesh = seamedFloor();
    let size: 64 | 128 | 256 = 128;
    const strokes: number[] = [];
    for (let n = 0; n < 25; n++) {
      const z = () => {
        const at = random() * 1.6 - 0.8;
        strokes.push(at);
        engine.apply(stroke(at));
      };
      z();
      const what = Math.floor(random() * 4);
      if (what === 0) mesh = relaid(mesh);
      else if (what === 1) size = ([64, 128, 256] as const)[Math.floor(random() * 3)]!;
      else if (what === 2) mesh = renamePart(mesh, 0, `Floor ${n}`);
      else mesh = moveFaces(mesh, () => sheetMove([0.5, 0.5], { turn: Math.PI, scaleU: 1, scaleV: 1 }));
      const to = modelOf(mesh, size);
      if (to.hash === engine.document.model && size === engine.document.sheets[0]!.size) continue;
      const { tries } = await changeModel(engine, to, {
        patch: { sheets: oneSheet(size) },
        meanwhile: n % 2 ? z : () => undefined,
      });
      expect(tries).toMatchObject([{ done: true }]);
    }
    expect(engine.strokeCount()).toBe(strokes.length);
    const there = engineOn(mesh, size);
    for (const z of strokes) there.apply(stroke(z));
    expect(compositeSheet(engine)).toEqual(compositeSheet(there));
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

  it('is turned so that the axes that were named look up and to the front', () => {
    const mesh = plate(0.2);
    expect(placeMesh(mesh, {}).positions).toEqual(mesh.positions);
    expect(() => placeMesh(mesh, { up: '+x', front: '-x' })).toThrow(
      expect.objectContaining({ code: 'bad-argument' }),
    );
    const round = { up: '+y', front: '-z' } as const;
    expect(placeMesh(placeMesh(mesh, round), round).positions).toEqual(mesh.positions);
    const up = placeMesh(mesh, { up: '+z', front: '-y' });
    expect(up.positions).not.toEqual(mesh.positions);
  });
});

describe('the colours that a model brings', () => {
  it('a picture lies on the sheet where its UVs say, texel by texel', () => {
    const rgba = new Uint8Array(64 * 64 * 4);
    for (let i = 0; i < 64 * 64; i++) rgba.set([i % 64, Math.floor(i / 64), 200, 255], i * 4);
    const mesh = floor();
    const surface = measureSurface(mesh, 64);
    const tiles = basePaintTiles(surface, {
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
    const tiles = basePaintTiles(measureSurface(mesh, 64), {
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
    const tiles = basePaintTiles(measureSurface(mesh, 64), {
      pictures: [null],
      pictureUvs: null,
      cornerColors,
    });
    const i = texelIndex(64, 32, 20);
    expect(Math.abs(tiles.get(0)![(i % 4096) * 4]! - (32.5 / 64) * 255)).toBeLessThan(1.5);
  });

  it('a picture is multiplied by its factor as linear light; colours of vertices over it lie on a layer of their own', () => {
    const rgba = new Uint8Array(4 * 4 * 4).fill(255);
    for (let i = 0; i < 16; i++) rgba.set([188, 255, 0], i * 4);
    const mesh = floor();
    const surface = measureSurface(mesh, 64);
    const cornerColors = new Uint8Array(mesh.indices.length * 4).fill(255);
    const came = { pictures: [{ width: 4, height: 4, rgba }], pictureUvs: null, cornerColors };
    const [r, g, b] = basePaintTiles(surface, { ...came, factors: [[0.5, 0.25, 1]] }).get(0)!;
    // Linear 0.5 · 0.5029 is 0.2515, 137.3 encoded; linear 0.25 is 136.96 (IEC 61966-2-1).
    expect([r, g, b]).toEqual([137, 137, 0]);
    // White does nothing, so there is nothing to lay.
    expect(vertexColorTiles(surface, came).size).toBe(0);
    mesh.indices.forEach((v, c) => cornerColors.set([mesh.uvs[v * 2]! * 255, 0, 0, 128], c * 4));
    const laid = vertexColorTiles(surface, came).get(0)!;
    const i = texelIndex(64, 32, 20) % 4096;
    expect(Math.abs(laid[i * 4]! - (32.5 / 64) * 255)).toBeLessThan(1.5);
    // Multiplied whole: it is no paint that is thin there.
    expect(laid[i * 4 + 3]).toBe(255);
    expect(vertexColorTiles(surface, { pictures: [null], cornerColors }).size).toBe(0);
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
    expect(paint.colors).toEqual([['Wall', '#ff0080']]);
    expect(paint.pictures).toEqual([png]);
    const colored = 'v 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 0 1 0 0 0 1\nf 1 2 3\n';
    const second = await importModel('b.obj', new TextEncoder().encode(colored));
    expect([...second.paint.cornerColors!]).toEqual([255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255]);
  });
});
