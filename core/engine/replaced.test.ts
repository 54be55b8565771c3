import { describe, expect, it } from 'vitest';
import { carryTo, changeModel, engineOn, modelOf, PAINT, sortedTiles } from '../../tests/engines';
import { floorQuad, quads } from '../../tests/shapes';
import { stage } from '../../tests/rigged';
import { line, PLAIN_STROKE } from '../../tests/strokes';
import { CoreError } from '../errors';
import { importModel } from '../formats';
import {
  faceGeometry,
  mayShareLayout,
  placeMesh,
  placingOf,
  requireUvs,
  reshaped,
  type Mesh,
  type UvMesh,
} from '../mesh';
import { moveFaces, sheetMove } from '../unwrap';
import type { Engine } from './engine';

const two = (rightAt: readonly [number, number, number, number] = [0.55, 0.1, 0.95, 0.9]): UvMesh =>
  quads([floorQuad(1, [0.05, 0.1, 0.45, 0.9], 'Left'), floorQuad(1, rightAt, 'Right')]);

/** The same surface, each triangle cut into three at its middle, in the opposite order: an artist's second export. */
function recut(mesh: UvMesh): UvMesh {
  const { positions, normals, uvs, indices, faceParts } = mesh;
  const faces = faceParts.length;
  const mean = (data: Float32Array, f: number, n: number): number[] =>
    Array.from(
      { length: n },
      (_, k) => [0, 1, 2].reduce((s, c) => s + data[indices[f * 3 + c]! * n + k]!, 0) / 3,
    );
  const all = { positions: [...positions], normals: [...normals], uvs: [...uvs] };
  const out: number[] = [];
  const parts: number[] = [];
  for (let f = faces - 1; f >= 0; f--) {
    const v = all.positions.length / 3;
    all.positions.push(...mean(positions, f, 3));
    all.normals.push(...mean(normals, f, 3));
    all.uvs.push(...mean(uvs, f, 2));
    for (let c = 0; c < 3; c++) out.push(indices[f * 3 + c]!, indices[f * 3 + ((c + 1) % 3)]!, v);
    parts.push(faceParts[f]!, faceParts[f]!, faceParts[f]!);
  }
  return {
    ...mesh,
    positions: Float32Array.from(all.positions),
    normals: Float32Array.from(all.normals),
    uvs: Float32Array.from(all.uvs),
    indices: Uint32Array.from(out),
    faceParts: Uint16Array.from(parts),
  };
}

/** Far from where it was, and of other proportions. */
const away = <M extends Mesh>(mesh: M): M => ({
  ...mesh,
  positions: mesh.positions.map((x, i) => x * [1, 2, 3][i % 3]! + 50),
});

function painted(mesh: UvMesh): Engine {
  const engine = engineOn(mesh);
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    stroke: { ...PLAIN_STROKE, runs: [line([-0.4, 0, 0.1], [0.4, 0, 0.1], 0.25)] },
  });
  return engine;
}

/** Opaque texels on the left half of the sheet, and on the right. */
function halves(pixels: Iterable<{ tile: number; bytes: Uint8Array | null }>): [number, number] {
  const out: [number, number] = [0, 0];
  for (const { tile, bytes } of pixels)
    for (let i = 3; bytes && i < bytes.length; i += 4) if (bytes[i]! > 0) out[tile % 2]!++;
  return out;
}

const BY_SHEET = { byTriangle: false, keepsSheets: true } as const;

describe('another version of a model', () => {
  it('with the same UVs keeps every texel, however its triangles are cut and wherever they are', () => {
    const engine = painted(two());
    const to = modelOf(away(recut(two())));
    const carried = carryTo(engine, to, BY_SHEET);
    expect(carried.kept).toEqual(['Left', 'Right']);
    expect(sortedTiles(carried.planes[0]!.pixels)).toEqual(sortedTiles(engine.tilesOf(PAINT)));
    expect(carried.loss).toMatchObject({ mean: 0, lost: 0 });
    expect(carried.unmatched).toEqual([]);
    // Each triangle goes by the one that it was cut from.
    const was = faceGeometry(engine.mesh);
    for (const source of carried.faces.source) expect(was.areas[source]).toBeGreaterThan(0);
    expect([...carried.faces.source].map((f) => engine.mesh.faceParts[f])).toEqual([
      ...to.surface.mesh.faceParts,
    ]);
  });

  it('keeps those parts whose UVs are as they were; the others are found by place, new ones are bare', () => {
    const engine = painted(two());
    const before = halves(engine.tilesOf(PAINT));
    const other = quads([
      floorQuad(1, [0.05, 0.1, 0.45, 0.9], 'Left'),
      floorQuad(1, [0.55, 0.3, 0.75, 0.7], 'Right'),
      {
        ...floorQuad(1, [0.8, 0.1, 0.95, 0.3], 'Hat'),
        corners: floorQuad(1, [0, 0, 1, 1]).corners.map(([x, , z]) => [x, 9, z]) as never,
      },
    ]);
    const carried = carryTo(engine, modelOf(recut(other)), BY_SHEET);
    expect(carried.kept).toEqual(['Left']);
    expect(carried.unmatched).toEqual(['Hat']);
    const [left, right] = halves(carried.planes[0]!.pixels);
    expect(left).toBe(before[0]);
    // A quarter of the room that it had.
    expect(right / before[1]).toBeGreaterThan(0.18);
    expect(right / before[1]).toBeLessThan(0.36);
  });

  it('may keep texels where half of the UV points of a part of the same name are as they were', () => {
    const shapes = [two(), recut(two()), two([0.1, 0.3, 0.2, 0.5])].map((next) =>
      mayShareLayout(two(), next),
    );
    expect(shapes).toEqual([true, true, true]);
    const elsewhere = { ...two(), uvs: two().uvs.map((x) => x * 0.9) };
    expect(mayShareLayout(two(), elsewhere)).toBe(false);
    expect(mayShareLayout(two(), { ...two(), parts: ['A', 'B'] })).toBe(false);
  });

  it('is looked for by place where that is wished for', () => {
    const engine = painted(two());
    const carried = carryTo(engine, modelOf(away(recut(two()))), { byTriangle: false });
    expect(carried.kept).toEqual([]);
    expect(carried.planes[0]!.pixels).toEqual([]);
  });

  it('of which a half is gone names that half’s island as damaged, before it is taken', async () => {
    const engine = painted(two());
    const before = sortedTiles(engine.tilesOf(PAINT));
    const half = modelOf(quads([floorQuad(1, [0.05, 0.1, 0.45, 0.9], 'Left')]));
    const elsewhere = { ...half.surface.mesh, positions: half.surface.mesh.positions.map((x) => x + 9) };
    const { loss } = carryTo(engine, modelOf(elsewhere), { byTriangle: false });
    expect(loss.damaged.map(({ part }) => part).sort()).toEqual(['Left', 'Right']);
    // All but the faint edge of the stroke.
    expect(loss.damaged.every(({ lost }) => lost > 0.7)).toBe(true);
    expect(
      loss.damaged.map(({ face, part }) => engine.mesh.parts[engine.mesh.faceParts[face]!] === part),
    ).toEqual([true, true]);
    const accept = (): Promise<void> => Promise.reject(new CoreError('cancelled', 'Left as it is.'));
    await expect(changeModel(engine, modelOf(elsewhere), { accept })).rejects.toMatchObject({
      code: 'cancelled',
    });
    expect(sortedTiles(engine.tilesOf(PAINT))).toEqual(before);
    expect(engine.mesh.parts).toEqual(['Left', 'Right']);
  });

  it('of the same triangles keeps the sheets, and lays no stroke anew that was made on the former shape', async () => {
    const engine = painted(two());
    const before = sortedTiles(engine.tilesOf(PAINT));
    const { carried } = await changeModel(engine, modelOf(away(two())));
    expect(carried.kept).toEqual(['Left', 'Right']);
    expect(sortedTiles(engine.tilesOf(PAINT))).toEqual(before);
    expect(engine.strokesOf(PAINT)).toHaveLength(1);
    expect(engine.editableStrokes(PAINT)).toEqual([]);
    // At another size what is on the sheet is carried: the stroke isn't made where nothing is any more.
    await changeModel(engine, modelOf(away(two()), 256), {
      patch: { sheets: [{ ...engine.document.sheets[0]!, size: 256 }] },
    });
    const grown = halves(
      [...engine.tilesOf(PAINT)].map((t) => ({ ...t, tile: Math.floor((t.tile % 4) / 2) })),
    );
    const small = halves(before.map(([tile, bytes]) => ({ tile, bytes })));
    expect(grown[0] / small[0]).toBeGreaterThan(3.5);
    engine.undo();
    engine.undo();
    expect(engine.editableStrokes(PAINT)).toHaveLength(1);
  });
});

describe('a file whose vertices have moved', () => {
  it('moves the vertices of a model that was laid out, cut and placed since', async () => {
    const { mesh: read } = await importModel('stage.glb', await stage());
    const next = { ...read, positions: read.positions.map((x, i) => x + [0.5, 0, -0.25][i % 3]!) };
    const placement = { scale: 2 };
    const relaid = moveFaces(requireUvs(read), () =>
      sheetMove([0.5, 0.5], { turn: 1, scaleU: 0.5, scaleV: 0.5 }),
    );
    const mesh = placeMesh(relaid, placement);
    const moved = reshaped(mesh, read, next, placingOf(placement))!;
    expect(moved.uvs).toBe(mesh.uvs);
    moved.positions.forEach((x, i) =>
      expect(x).toBeCloseTo(mesh.positions[i]! + 2 * [0.5, 0, -0.25][i % 3]!, 4),
    );
    moved.normals.forEach((x, i) => expect(x).toBeCloseTo(mesh.normals[i]!, 4));
  });

  it('isn’t taken for the same where triangles or UVs are others', async () => {
    const { mesh: read } = await importModel('stage.glb', await stage());
    const mesh = requireUvs(read);
    expect(reshaped(mesh, read, { ...read, uvs: mesh.uvs.map((u) => u / 2) }, null)).toBeNull();
    expect(reshaped(mesh, read, { ...read, indices: read.indices.slice(3) }, null)).toBeNull();
    expect(reshaped(mesh, null, { ...read, uvs: mesh.uvs.map((u) => u / 2) }, null)).toBeNull();
    expect(reshaped(mesh, null, read, null)!.positions).toEqual(read.positions);
  });
});
