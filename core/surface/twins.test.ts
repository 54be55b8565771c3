import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { floorQuad, quads, vault, type Quad } from '../../tests/shapes';
import { findIslandSides } from '../mesh';
import {
  ChannelSampler,
  codesOfTile,
  faceAt,
  filledTiles,
  INSIDE,
  isCovered,
  islandAt,
  layersOfTile,
  measureSurface,
  pixelTile,
  placedTiles,
  placeLayers,
  placeOfTile,
  spannedTiles,
  texelIndex,
  TILE_BYTES,
  TILE_TEXELS,
} from '.';

/** A square above another, on the same texels. */
const above = (height: number, place: Quad['place'], part: string): Quad => ({
  ...floorQuad(2, place, part),
  corners: floorQuad(2, place).corners.map(([x, , z]) => [x, height, z] as const),
});

describe('mirrored halves on the same texels, their triangles in mixed order', () => {
  const map = measureSurface(vault(), 256);
  const step = spannedTiles(map.sheets);

  it('are two sides of one island', () => {
    const sides = findIslandSides(map.mesh);
    expect([sides.islands, sides.count]).toEqual([1, 2]);
    expect(map.islands).toBe(1);
    // The fold is a border of both, and each has three more.
    const { positions: p, indices } = map.mesh;
    const onFold = [...sides.borders.keys()].filter(
      (c) =>
        sides.borders[c] === 1 &&
        p[indices[c]! * 3] === 0 &&
        p[indices[c % 3 === 2 ? c - 2 : c + 1]! * 3] === 0,
    );
    expect(onFold).toHaveLength(16);
  });

  it('have each texel twice: wholly one side first, the other as its mirror image', () => {
    expect(placeLayers(map)).toBe(2);
    expect(map.overlappedTexels).toBe(map.coveredTexels);
    expect(map.twinOf).toEqual(Uint32Array.from([0, 0]));
    const at = expanded(map);
    const first = new Set<number>();
    let compared = 0;
    for (const tile of filledTiles(map)) {
      const layers = layersOfTile(map, tile);
      expect(layers).toEqual([tile, tile + step]);
      for (let i = 0; i < TILE_TEXELS; i++) {
        const [a, b] = layers.map((layer) => layer * TILE_TEXELS + i) as [number, number];
        if (!isCovered(map, a)) continue;
        first.add(islandAt(map, a));
        expect(at.px[b]!).toBeCloseTo(-at.px[a]!, 5);
        expect(at.py[b]!).toBeCloseTo(at.py[a]!, 5);
        expect(at.pz[b]!).toBeCloseTo(at.pz[a]!, 5);
        compared++;
      }
    }
    expect(compared).toBeGreaterThan(50_000);
    expect(first.size).toBe(1);
  });

  it('have the same gutter, also beyond the fold', () => {
    const ofLayer = [0, 1].map((layer) =>
      filledTiles(map).flatMap((tile) =>
        [...codesOfTile(map, tile + layer * step)!].map((code) =>
          code < 0 ? 0 : (code & 3) === INSIDE ? 2 : 1,
        ),
      ),
    );
    expect(ofLayer[1]).toEqual(ofLayer[0]);
    // u = 0.05 is the fold: three texels beyond it lies gutter.
    const beyond = texelIndex(256, Math.floor(0.05 * 256) - 3, 128);
    for (const texel of [beyond, beyond + step * TILE_TEXELS]) {
      expect(faceAt(map, texel)).toBeGreaterThanOrEqual(0);
      expect(isCovered(map, texel)).toBe(false);
    }
    expect(placeOfTile(map.sheets, step)).toEqual({ sheet: 0, size: 256, x: 0, y: 0 });
  });

  it('are read by either side, and by no other', () => {
    const bytes = new Uint8Array(TILE_BYTES).fill(200);
    const sampler = new ChannelSampler(map, { get: () => bytes });
    for (const face of map.mesh.faceParts.keys()) {
      sampler.begin();
      sampler.add({ face, w0: 1 / 3, w1: 1 / 3, w2: 1 / 3 });
      expect(sampler.finish()).toBe(true);
    }
  });
});

describe('pieces that lie on one another', () => {
  it('are twins where they have the same texels, whichever order they come in; what merely overlaps is none', () => {
    const place = [0.1, 0.1, 0.5, 0.5] as const;
    const map = measureSurface(
      quads([
        above(0, place, 'A'),
        above(1, [0.3, 0.3, 0.7, 0.7], 'Over'),
        above(2, [0.5, 0.1, 0.1, 0.5], 'Mirrored'),
        above(3, place, 'Stacked'),
      ]),
      128,
    );
    const ofPart = (name: string): number => map.islandOfFace[map.mesh.parts.indexOf(name) * 2]!;
    expect([map.twinOf[ofPart('Mirrored')], map.twinOf[ofPart('Stacked')]]).toEqual([
      ofPart('A'),
      ofPart('A'),
    ]);
    expect(map.twinOf[ofPart('Over')]).toBe(ofPart('Over'));
  });

  it('stacked a hundredfold, are known up to the limit, and nothing breaks', () => {
    const many = Array.from({ length: 100 }, (_, n) => above(n, [0.1, 0.1, 0.9, 0.9], `P${n}`));
    const map = measureSurface(quads(many), 64);
    expect(placeLayers(map)).toBe(16);
    expect(new Set(map.twinOf).size).toBe(1);
    expect(placedTiles(map)).toHaveLength(16);
    const middle = texelIndex(64, 32, 32);
    const faces = layersOfTile(map, 0).map((tile) => faceAt(map, tile * TILE_TEXELS + middle) >> 1);
    expect(faces).toEqual(Array.from({ length: 16 }, (_, n) => n));
    expect(layersOfTile(map, 0).map((tile) => pixelTile(map.sheets, tile))).toEqual(new Array(16).fill(0));
  });

  it('collapsed to a point have no texels', () => {
    const mesh = quads([above(0, [0.5, 0.5, 0.5, 0.5], 'Point'), above(1, [0.1, 0.1, 0.4, 0.4], 'Square')]);
    const map = measureSurface(mesh, 64);
    expect(placeLayers(map)).toBe(1);
    expect(map.coveredTexels).toBeGreaterThan(300);
  });
});
