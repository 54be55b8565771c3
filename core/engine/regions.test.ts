import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL, RELAID } from '../../tests/engines';
import { ball, plate, seamedFloor } from '../../tests/shapes';
import { Follower } from '../follow';
import type { UvMesh } from '../mesh';
import { followRegion, type Region } from '../region';
import { guardWishSchema, type GuardWish } from '../commands';
import { prepareStroke } from './strokes/prepare-stroke';
import { compositeSheet } from './pictures/flatten';
import { PLAIN_LEVELS, type MaskStep } from '../layers';
import { readProjectFile, writeProjectFile } from '../project-file';
import { recipeFromDocument } from '../document';
import type { Engine } from './engine';

/** Whether anything lies at (u, v) of the sheet. */
const isPainted = (rows: Uint8Array, u: number, v: number): boolean =>
  rows[(Math.floor((1 - v) * 128) * 128 + Math.floor(u * 128)) * 4 + 3]! > 0;

const LEFT: Omit<Region, 'id'> = { name: 'Left', faces: [0, 1], cuts: [] };

const onRegion = (region: number): MaskStep => ({
  from: 'region',
  region,
  join: 'multiply',
  levels: PLAIN_LEVELS,
  invert: false,
});

/** Masks the local colours by a new region. @returns its id */
function maskByRegion(engine: Engine): number {
  const [region] = engine.apply({ do: 'add-region', region: LEFT }).ids;
  engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [onRegion(region!)] } });
  return region!;
}

describe('a region', () => {
  it('masks a layer, derived or painted, to its faces and their gutter', () => {
    const engine = engineOn(seamedFloor());
    const region = maskByRegion(engine);
    const masked = compositeSheet(engine);
    expect([isPainted(masked, 0.2, 0.4), isPainted(masked, 0.8, 0.4)]).toEqual([true, false]);
    // Just outside the island's border, where colour must reach for the mipmaps.
    expect(isPainted(masked, 0.41, 0.4)).toBe(true);
    engine.apply({ do: 'patch-region', region, patch: { faces: [2, 3] } });
    const other = compositeSheet(engine);
    expect([isPainted(other, 0.2, 0.4), isPainted(other, 0.8, 0.4)]).toEqual([false, true]);
    engine.undo();
    expect(compositeSheet(engine)).toEqual(masked);
  });

  it('that is removed frees the layers that it masked, until that is undone', () => {
    const engine = engineOn(seamedFloor());
    const region = maskByRegion(engine);
    engine.apply({ do: 'remove-region', region });
    expect(engine.layer(LOCAL).mask).toEqual([]);
    expect(isPainted(compositeSheet(engine), 0.8, 0.4)).toBe(true);
    engine.undo();
    expect(engine.layer(LOCAL).mask).toEqual([onRegion(region)]);
    expect(isPainted(compositeSheet(engine), 0.8, 0.4)).toBe(false);
  });

  it('holds a stroke, with a part where both are wished for', () => {
    const engine = engineOn(seamedFloor());
    const [region] = engine.apply({ do: 'add-region', region: { name: 'West', faces: [0], cuts: [] } }).ids;
    const [part] = engine.mesh.parts;
    const guardOf = (wish: GuardWish) =>
      prepareStroke(engine.document, engine.mesh, wish, () => []).guard?.faces;
    expect(guardOf({ region: region! })).toEqual([0, 1]);
    const ofPart = guardOf({ part: part! });
    expect(ofPart).not.toEqual([]);
    expect(guardOf({ part: part!, region: region! })).toEqual(engine.mesh.faceParts[0] === 0 ? [0, 1] : []);
    expect(guardOf({ part: 'gone', region: region! })).toEqual([]);
    expect(() => guardOf({ region: 999 })).toThrow(/no longer there/);
    expect(guardWishSchema.safeParse({}).success).toBe(false);
  });

  it('is kept in the project file, and left out of a recipe', () => {
    const engine = engineOn(seamedFloor());
    maskByRegion(engine);
    const { document, mesh } = engine;
    const bytes = writeProjectFile({ document, mesh, ...engine.everything(), files: new Map() });
    expect(readProjectFile(bytes).document).toEqual(document);
    expect(recipeFromDocument(document).layers[0]!.mask).toEqual([]);
  });
});

describe('regions follow', () => {
  const carried = (from: UvMesh, to: UvMesh, regions: Region[], byTriangle: boolean) =>
    regions.map((region) => followRegion(region, new Follower({ ...RELAID, from, to, byTriangle })));

  it('another layout triangle by triangle', () => {
    const mesh = seamedFloor();
    const moved = { ...mesh, uvs: mesh.uvs.map((x) => 1 - x) };
    const region = { id: 10, ...LEFT };
    expect(carried(mesh, moved, [region], true)).toEqual([region]);
  });

  it('another model by part and by place: a finer ball, a little larger, keeps its cap', () => {
    const capOf = (mesh: UvMesh, radius: number): number[] => {
      const out: number[] = [];
      for (let f = 0; f < mesh.faceParts.length; f++) {
        const y = [0, 1, 2].reduce((s, k) => s + mesh.positions[mesh.indices[f * 3 + k]! * 3 + 1]! / 3, 0);
        if (y > radius / 2) out.push(f);
      }
      return out;
    };
    const coarse = ball(24, 12);
    const fine = ball(60, 30, 1.03);
    const [region] = carried(
      coarse,
      fine,
      [{ id: 5, name: 'Cap', faces: capOf(coarse, 1), cuts: [] }],
      false,
    );
    const wanted = new Set(capOf(fine, 1.03));
    const wrong = region!.faces.filter((f) => !wanted.has(f)).length;
    const missed = wanted.size - (region!.faces.length - wrong);
    // Only triangles along the rim may differ: one row of the coarse ball.
    expect(wrong + missed).toBeLessThan(wanted.size * 0.15);
    expect(region).toMatchObject({ id: 5, name: 'Cap' });
  });

  it('a part that is gone takes its region with it; the other side of a thin plate gets none', () => {
    const mesh = plate(0.05, 'Under');
    const [region] = carried(mesh, mesh, [{ id: 5, name: 'Top', faces: [0, 1], cuts: [] }], false);
    expect(region!.faces).toEqual([0, 1]);
    const far = { ...mesh, positions: mesh.positions.map((x) => x + 40) };
    expect(carried(mesh, far, [{ id: 5, name: 'Top', faces: [0, 1], cuts: [] }], false)[0]!.faces).toEqual(
      [],
    );
  });
});
