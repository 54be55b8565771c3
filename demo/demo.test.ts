import { readFile } from 'node:fs/promises';
import { MeshoptSimplifier } from 'meshoptimizer';
import { beforeAll, describe, expect, it } from 'vitest';
import { layersOf, parseRecipe } from '../core/document';
import { localColor } from '../core/layers';
import { triangleCount, type UvMesh } from '../core/mesh';
import { measureSurface, uvFigures } from '../core/surface';
import { makeOtter } from './otter';
import { TONES } from './palette';
import { makeFishLantern, makeKettle, makeTurnipCrate } from './props';

beforeAll(() => MeshoptSimplifier.ready);

describe.each([
  ['the otter cook', makeOtter, 4000, 10_000, 14],
  ['the fish lantern', makeFishLantern, 300, 3000, 4],
  ['the kettle on its stove', makeKettle, 300, 3000, 5],
  ['the crate of turnips', makeTurnipCrate, 300, 3000, 3],
] as const)('%s', (_name, make, least, most, parts) => {
  let mesh: UvMesh;
  beforeAll(() => {
    mesh = make();
  });

  it('has the triangles and parts of a game model', () => {
    expect(triangleCount(mesh)).toBeGreaterThanOrEqual(least);
    expect(triangleCount(mesh)).toBeLessThanOrEqual(most);
    expect(mesh.parts).toHaveLength(parts);
  });

  it('has clean UVs: on the sheet, face up, nothing on top of anything', () => {
    const map = measureSurface(mesh, 1024);
    expect(map.overlappedTexels).toBe(0);
    expect(uvFigures(mesh)).toEqual({ outOfRange: 0, flipped: 0 });
    expect(map.coveredTexels / 1024 ** 2).toBeGreaterThan(0.3);
  });

  it('comes out the same each time', () => {
    expect(make()).toEqual(mesh);
  });
});

describe("the demo's recipe", () => {
  it('is valid and gives every part of the otter its colour', async () => {
    const recipe = parseRecipe(JSON.parse(await readFile('demo/otter.recipe.json', 'utf8')));
    const local = layersOf(recipe.layers).find((l) => l.kind === 'local')!;
    for (const part of makeOtter().parts) expect(localColor(local, part)).toBe(TONES[part]!.local);
    const occlusion = layersOf(recipe.layers).find((l) =>
      l.mask.some((s) => s.from === 'cue' && s.cue.cue === 'occlusion'),
    )!;
    expect([occlusion.blend, occlusion.opacity]).toEqual(['multiply', 0.8]);
  });
});
