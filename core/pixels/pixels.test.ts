import { deflateSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../math';
import { TILE_BYTES } from '../surface';
import { PixelStore } from './pixel-store';
import { packPixels, packTiles, unpackPixels, unpackTiles, type TileState } from './tile-pack';

/** Soft paint of one colour, as a brush leaves it. */
function softTile(seed: number): Uint8Array {
  const out = new Uint8Array(TILE_BYTES);
  for (let i = 0; i < TILE_BYTES / 4; i++) {
    const alpha = 128 + 120 * Math.sin((i % 64) / 20 + seed) * Math.cos(i / 64 / 15);
    out.set([212, 88, 26, alpha], i * 4);
  }
  return out;
}

function noiseTile(seed: number): Uint8Array {
  const random = seededRandom(seed);
  return Uint8Array.from({ length: TILE_BYTES }, () => random() * 256);
}

const tiles = (count: number): TileState[] =>
  Array.from({ length: count }, (_, tile) => ({
    plane: tile % 3,
    tile,
    bytes: tile % 7 === 3 ? null : tile % 2 ? noiseTile(tile) : softTile(tile),
  }));

describe('packed pixels', () => {
  it('come back to the last bit, soft paint, noise and nothing', () => {
    for (const bytes of [softTile(1), noiseTile(2), new Uint8Array(TILE_BYTES)]) {
      expect(unpackPixels(packPixels(bytes), TILE_BYTES)).toEqual(bytes);
    }
    const states = tiles(150);
    expect(unpackTiles(packTiles(states))).toEqual(states);
  });

  it('of soft paint take less than two thirds of what plain deflating takes', () => {
    const plain = deflateSync(softTile(1), { level: 1 }).length;
    expect(packPixels(softTile(1)).length).toBeLessThan(plain * 0.67);
  });

  it('of version 0.2 are read: deflated as they are, all tiles of a step in one', () => {
    expect(unpackPixels(deflateSync(softTile(4)), TILE_BYTES)).toEqual(softTile(4));
    const states = tiles(150);
    const filled = states.flatMap((t) => (t.bytes ? [t.bytes] : []));
    const all = new Uint8Array(filled.length * TILE_BYTES);
    filled.forEach((bytes, i) => all.set(bytes, i * TILE_BYTES));
    const where = states.map(({ plane, tile, bytes }) => ({ plane, tile, empty: !bytes }));
    expect(unpackTiles({ where, deflated: [deflateSync(all)] })).toEqual(states);
  });

  it('that are damaged, cut off or of another length are none', () => {
    const packed = packPixels(noiseTile(1));
    expect(unpackPixels(packed.slice(0, packed.length / 2), TILE_BYTES)).toBeNull();
    expect(unpackPixels(Uint8Array.of(1, 2, 3), TILE_BYTES)).toBeNull();
    expect(unpackPixels(new Uint8Array(0), TILE_BYTES)).toBeNull();
    expect(unpackPixels(packPixels(new Uint8Array(TILE_BYTES * 2)), TILE_BYTES)).toBeNull();
    const { where, deflated } = packTiles(tiles(20));
    expect(() => unpackTiles({ where, deflated: [deflated[0]!.slice(0, 40)] })).toThrow(
      expect.objectContaining({ code: 'storage-damaged' }),
    );
  });
});

describe('the store of pixels', () => {
  it('gives back what was put, within its budget, whether it is held packed or not', () => {
    const store = new PixelStore(TILE_BYTES * 10);
    const states = tiles(60);
    states.forEach((state) => store.put(state));
    // Packed ones take less than they are; ten and what is left of the slack aren't packed.
    expect(store.bytes).toBeLessThan(60 * TILE_BYTES);
    for (let round = 0; round < 2; round++) {
      for (const { plane, tile, bytes } of states) expect(store.get(plane, tile)).toEqual(bytes ?? undefined);
    }
  });

  it('looking at everything doesn’t push out what was put last', () => {
    const store = new PixelStore(TILE_BYTES * 10);
    const states = tiles(60).filter((t) => t.bytes);
    states.forEach((state) => store.put(state));
    const last = states.at(-1)!;
    for (const { plane, tile } of states) store.get(plane, tile);
    expect(store.get(last.plane, last.tile)).toBe(last.bytes);
  });

  it('takes tiles as they were stored; one that is damaged is told once and counts as empty', () => {
    const damaged: [number, number][] = [];
    const store = new PixelStore(undefined, (plane, tile) => damaged.push([plane, tile]));
    store.putPacked({ plane: 2, tile: 5, packed: packPixels(softTile(3)) });
    store.putPacked({ plane: 2, tile: 6, packed: Uint8Array.of(7, 7, 7) });
    expect(store.get(2, 5)).toEqual(softTile(3));
    expect([store.get(2, 6), store.get(2, 6), store.has(2, 6)]).toEqual([undefined, undefined, false]);
    expect(damaged).toEqual([[2, 6]]);
  });
});
