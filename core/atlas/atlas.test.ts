import validator from 'gltf-validator';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { ball, floor } from '../../tests/shapes';
import { checkDelivery, USUAL_CHECK } from '../delivery';
import { encodePng, writeUnlitGlb, type Picture } from '../formats';
import type { UvMesh } from '../mesh';
import { measureIslands } from '../unwrap';
import { makeAtlas, type AtlasMember } from '.';

/** A sheet whose colours tell where they lie: red along u, green along v. */
const placed = (size: number, blue: number): Picture => ({
  width: size,
  height: size,
  rgba: Uint8Array.from({ length: size * size * 4 }, (_, i) => {
    const [x, y] = [(i >> 2) % size, Math.floor((i >> 2) / size)];
    return [((x + 0.5) / size) * 255, (1 - (y + 0.5) / size) * 255, blue, 255][i % 4]!;
  }),
});

const member = (name: string, mesh: UvMesh, blue: number, weight = 1): AtlasMember => ({
  name,
  mesh,
  pictures: [placed(256, blue)],
  weight,
});

const HOW = { size: 512, margin: 8, arrange: 'tightest' } as const;

describe('an atlas', () => {
  const members = [member('Ball', ball(24, 12), 40), member('Floor', floor(), 200)];
  const atlas = makeAtlas(members, HOW);

  it('shows on every triangle what it showed before', () => {
    const { mesh, picture } = atlas;
    let [face, worst] = [0, 0];
    for (const { mesh: own, pictures } of members) {
      for (let f = 0; f < own.faceParts.length; f++, face++) {
        const middle = (m: UvMesh, g: number): [number, number] => {
          const at = (k: number): number =>
            [0, 1, 2].reduce((sum, c) => sum + m.uvs[m.indices[g * 3 + c]! * 2 + k]!, 0) / 3;
          return [at(0), at(1)];
        };
        const [u, v] = middle(mesh, face);
        const o = (Math.floor((1 - v) * 512) * 512 + Math.floor(u * 512)) * 4;
        const [was, up] = middle(own, f);
        // Within the width of a texel of either sheet.
        worst = Math.max(
          worst,
          Math.abs(picture.rgba[o]! - was * 255),
          Math.abs(picture.rgba[o + 1]! - up * 255),
        );
        expect(picture.rgba[o + 2], `triangle ${face}`).toBe(pictures[0]!.rgba[2]);
      }
    }
    expect(worst).toBeLessThan(4);
  });

  it('has the same texels a unit everywhere, keeps its margin, and may leave', () => {
    const islands = measureIslands(atlas.mesh, 512);
    const densities = islands.map((i) => i.density);
    expect(Math.max(...densities) / Math.min(...densities)).toBeLessThan(1.05);
    const report = checkDelivery(atlas.mesh, [{ picture: atlas.picture }], { ...USUAL_CHECK, mips: 2 });
    expect(report.sheets[0]).toMatchObject({ seams: [], unpainted: 0 });
    expect(report.sheets[0]!.gap).toBeGreaterThanOrEqual(7);
    expect(atlas.members.map((m) => m.name)).toEqual(['Ball', 'Floor']);
    expect(atlas.members.every((m) => m.fill > 0.02)).toBe(true);
  });

  it('lays what weighs more denser', () => {
    const { mesh } = makeAtlas([member('Ball', ball(24, 12), 40), member('Floor', floor(), 200, 2)], HOW);
    const of = (name: string): number =>
      measureIslands(mesh, 512).find((i) => mesh.parts[i.part]!.startsWith(name))!.density;
    expect(of('Floor') / of('Ball')).toBeCloseTo(2, 1);
  });

  it('takes two that lie on the same place of their sheets, and leaves as one model', async () => {
    const twins = makeAtlas([member('A', floor(), 10), member('B', floor(), 250)], HOW);
    const blues = new Set(Array.from({ length: 512 * 512 }, (_, i) => twins.picture.rgba[i * 4 + 2]));
    expect([...blues].toSorted((a, b) => a! - b!)).toEqual([10, 250]);
    const glb = await writeUnlitGlb(twins.mesh, 'Twins', [encodePng(twins.picture)]);
    const { issues } = await validator.validateBytes(glb);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb);
    expect(document.getRoot().listMaterials()).toHaveLength(1);
    const names = document
      .getRoot()
      .listNodes()
      .map((n) => n.getName());
    expect(names.every((n) => /^[AB] \/ /.test(n))).toBe(true);
    expect(PNG.sync.read(Buffer.from(document.getRoot().listTextures()[0]!.getImage()!)).width).toBe(512);
  });

  it('of nothing, of two that are called alike, or without room is refused', () => {
    expect(() => makeAtlas([], HOW)).toThrow(/a project at least/);
    expect(() => makeAtlas([members[0]!, members[0]!], HOW)).toThrow(/Two projects are called “Ball”/);
    expect(() => makeAtlas(members, { ...HOW, size: 16, margin: 64 })).toThrow(
      expect.objectContaining({ code: 'pack-no-room' }) as Error,
    );
  });
});
