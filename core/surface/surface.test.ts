import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { ball, floor, quads, seamedFloor } from '../../tests/shapes';
import {
  bleed,
  fromRows,
  GUTTER,
  INSIDE,
  islandAt,
  measureSurface,
  PlaceReader,
  texelIndex,
  texelPosition,
  tileToRows,
  TILE_BYTES,
  toRows,
  SubTileFinder,
  texelsAtPlaces,
  TILE_TEXELS,
  uvFigures,
} from '.';
import { seededRandom } from '../math';

describe('the order of texels', () => {
  it('numbers every texel once, and finds its place again', () => {
    fc.assert(
      fc.property(fc.constantFrom(64, 256, 1024), fc.nat(1023), fc.nat(1023), (size, px, py) => {
        const x = px % size;
        const y = py % size;
        expect(texelPosition(size, texelIndex(size, x, y))).toEqual([x, y]);
      }),
    );
    const seen = new Set<number>();
    for (let y = 0; y < 128; y++) for (let x = 0; x < 128; x++) seen.add(texelIndex(128, x, y));
    expect(seen.size).toBe(128 * 128);
    expect(Math.max(...seen)).toBe(128 * 128 - 1);
  });

  it('turns sheets and tiles into rows and back', () => {
    const rows = Uint32Array.from({ length: 128 * 128 }, (_, i) => i * 7);
    const tiled = fromRows(128, rows, new Uint32Array(rows.length));
    expect(toRows(128, tiled, new Uint32Array(rows.length))).toEqual(rows);
    const tile = new Uint8Array(tiled.buffer, TILE_BYTES * 3, TILE_BYTES);
    const out = new Uint8Array(TILE_BYTES);
    tileToRows(tile, out);
    const words = new Uint32Array(out.buffer);
    // The fourth tile begins at (64, 64).
    expect(words[0]).toBe((64 * 128 + 64) * 7);
    expect(words[64 * 63 + 63]).toBe((127 * 128 + 127) * 7);
  });
});

describe('measuring a surface', () => {
  it('gives every texel of a square its exact place; the top row is v = 1', () => {
    const map = measureSurface(floor(2), 64);
    expect(map.coveredTexels).toBe(64 * 64);
    const i = texelIndex(64, 10, 0);
    const at = expanded(map);
    expect(at.px[i]).toBeCloseTo(-1 + (2 * 10.5) / 64, 6);
    expect(at.pz[i]).toBeCloseTo(-1 + (2 * 0.5) / 64, 6);
    expect([at.nx[i], at.ny[i], at.nz[i]]).toEqual([0, 32767, 0]);
    expect(map.sheets[0]!.texelLength).toBeCloseTo(2 / 64, 6);
  });

  it('counts texels as an independent count of centres does', () => {
    // Pick's view of a right triangle: centres (x + .5, y + .5) with x + y + 1 < 40, and none on the edge.
    const triangle = {
      positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]),
      normals: new Float32Array([0, 0, 1, 0, 0, 1, 0, 0, 1]),
      uvs: new Float32Array([0, 0, 39.9 / 64, 0, 0, 39.9 / 64]),
      indices: new Uint32Array([0, 1, 2]),
      faceParts: new Uint16Array(1),
      parts: ['T'],
    };
    let centres = 0;
    for (let y = 0; y < 64; y++) for (let x = 0; x < 64; x++) if (x + 0.5 + y + 0.5 < 39.9) centres++;
    expect(measureSurface(triangle, 64).coveredTexels).toBe(centres);
  });

  it('lets no texel between two triangles fall out, and none be counted twice', () => {
    const map = measureSurface(ball(37, 19), 256);
    expect(map.overlappedTexels).toBe(0);
    // 0.96 of the sheet each way but for the pole rows' missing halves.
    expect(map.coveredTexels / 256 ** 2).toBeGreaterThan(0.85);
  });

  it('carries the border on into the gutter, and no further', () => {
    const map = measureSurface(seamedFloor(), 256);
    const edge = Math.round(0.4 * 256);
    const row = 128;
    const onBorder = texelIndex(256, edge + 3, row);
    const at = expanded(map);
    expect(at.covered[onBorder]).toBe(0);
    expect(at.px[onBorder]).toBeCloseTo(0, 3);
    expect(islandAt(map, onBorder)).toBe(islandAt(map, texelIndex(256, 60, row)));
    expect(at.face[texelIndex(256, edge + GUTTER + 2, row)]).toBe(-1);
  });

  it('wraps UVs outside 0..1 around and leaves out triangles that span thousands of sheets', () => {
    const moved = floor(2);
    const shifted = { ...moved, uvs: moved.uvs.map((u) => u - 3) };
    expect(measureSurface(shifted, 64).coveredTexels).toBe(64 * 64);
    expect(uvFigures(shifted).outOfRange).toBe(2);
    const huge = { ...moved, uvs: moved.uvs.map((u) => u * 5000) };
    expect(measureSurface(huge, 64).coveredTexels).toBe(0);
  });

  it('counts overlaps and triangles that lie face down', () => {
    const twice = quads([
      {
        part: 'A',
        corners: [
          [0, 0, 0],
          [1, 0, 0],
          [1, 1, 0],
          [0, 1, 0],
        ],
        place: [0, 0, 0.5, 0.5],
      },
      {
        part: 'B',
        corners: [
          [2, 0, 0],
          [3, 0, 0],
          [3, 1, 0],
          [2, 1, 0],
        ],
        place: [0.25, 0, 0.75, 0.5],
      },
    ]);
    expect(measureSurface(twice, 64).overlappedTexels).toBe(16 * 32);
    const mirrored = { ...twice, uvs: twice.uvs.map((u, i) => (i % 2 === 0 ? 1 - u : u)) };
    expect(uvFigures(mirrored).flipped).toBe(4);
  });

  it('measures the same in one go as sheet by sheet: what a sheet holds does not depend on the others', () => {
    const mesh = ball();
    const alone = expanded(measureSurface(mesh, 128));
    const first = expanded(measureSurface(mesh, [128, 64]));
    expect(first.px.slice(0, alone.px.length)).toEqual(alone.px);
    expect(first.face.slice(0, alone.face.length)).toEqual(alone.face);
  });

  it('goes round the border of the sheet with its places', () => {
    const moved = floor(2);
    const plain = expanded(measureSurface(moved, 64));
    // Half a sheet to the right: the right half comes in again on the left.
    const shifted = { ...moved, uvs: moved.uvs.map((u, i) => (i % 2 ? u : u + 0.5)) };
    const round = expanded(measureSurface(shifted, 64));
    for (const x of [0, 10, 31, 32, 40, 63]) {
      const [i, j] = [texelIndex(64, x, 20), texelIndex(64, (x + 32) % 64, 20)];
      expect(round.px[j]).toBeCloseTo(plain.px[i]!, 5);
      expect(round.pz[j]).toBeCloseTo(plain.pz[i]!, 5);
    }
  });

  it('finds the sub-tiles that a ball touches, as looking at every box does', () => {
    const map = measureSurface(ball(), [512, 256]);
    const finder = new SubTileFinder(map.subBounds);
    const random = seededRandom(3);
    for (let n = 0; n < 60; n++) {
      const [x, y, z, r] = [random() * 2 - 1, random() * 2 - 1, random() * 2 - 1, random() * 0.6];
      const wanted: number[] = [];
      for (let s = 0; s < 256; s++) {
        const b = map.subBounds.subarray(s * 6, s * 6 + 6);
        const out = [x, y, z].map((v, k) => Math.max(b[k]! - v, v - b[k + 3]!, 0));
        if (Math.hypot(...out) <= r) wanted.push(s);
      }
      const found: number[] = [];
      finder.near(x, y, z, r, 0, 256, found);
      expect(found).toEqual(wanted);
    }
  });
});

describe('bleed', () => {
  it('gives every free pixel the colour of the nearest known one', () => {
    const size = 33;
    const rgba = new Uint8Array(size * size * 4);
    const known = new Uint8Array(size * size);
    const seeds = [
      [5, 6],
      [25, 20],
      [12, 30],
    ] as const;
    seeds.forEach(([x, y], k) => {
      known[y * size + x] = 1;
      rgba.set([50 * (k + 1), 0, 0, 255], (y * size + x) * 4);
    });
    bleed(rgba, known, size, size, Infinity);
    for (let y = 0; y < size; y++) {
      for (let x = 0; x < size; x++) {
        // Brute force; a tie may go either way.
        const distances = seeds.map(([sx, sy]) => (sx - x) ** 2 + (sy - y) ** 2);
        const got = rgba[(y * size + x) * 4]! / 50 - 1;
        expect(distances[got]).toBe(Math.min(...distances));
      }
    }
  });

  it('goes as far as it is told', () => {
    const rgba = new Uint8Array(41 * 4);
    const known = new Uint8Array(41);
    known[20] = 1;
    rgba.set([9, 9, 9, 255], 80);
    bleed(rgba, known, 41, 1, 6);
    const filled = known.map((_, i) => (rgba[i * 4 + 3] ? 1 : 0)).reduce((a, b) => a + b, 0);
    expect(filled).toBe(13);
  });
});

describe('the texel at a place', () => {
  it('is the one whose middle lies there, on every triangle, on sheets of two sizes', () => {
    const two = {
      ...seamedFloor(),
      parts: ['A', 'B'],
      faceParts: Uint16Array.from([0, 0, 1, 1]),
      partSheets: [0, 1],
    };
    for (const [mesh, sizes] of [
      [ball(24, 12), [128]],
      [two, [128, 64]],
    ] as const) {
      const map = measureSurface(mesh, sizes);
      const at = texelsAtPlaces(map);
      const places = new PlaceReader(map);
      let asked = 0;
      map.slotOfTile.forEach((slot, tile) => {
        const p = slot >= 0 ? places.tile(tile) : null;
        if (!p) return;
        for (let i = 0; i < TILE_TEXELS; i += 7) {
          const code = map.codes[slot * TILE_TEXELS + i]!;
          if (code < 0 || (code & 3) !== INSIDE) continue;
          asked++;
          expect(at(code >> 2, [p.px[i]!, p.py[i]!, p.pz[i]!])).toBe(slot * TILE_TEXELS + i);
        }
      });
      expect(asked).toBeGreaterThan(500);
    }
  });
});
