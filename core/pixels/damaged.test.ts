import { expect, it } from 'vitest';
import { TILE_BYTES } from '../surface';
import { PixelStore } from './pixel-store';
import { packPixels } from './tile-pack';

it('a damaged tile is told once and counts as empty wherever tiles are walked over', () => {
  const told: number[] = [];
  const store = new PixelStore(undefined, (_plane, tile) => told.push(tile));
  const good = new Uint8Array(TILE_BYTES).fill(9);
  const packed = packPixels(good);
  store.putPacked({ plane: 1, tile: 0, packed });
  store.putPacked({ plane: 1, tile: 1, packed: packed.slice(0, 5) });
  store.putPacked({ plane: 1, tile: 2, packed });
  expect([...store.states(1)].map(({ tile, bytes }) => [tile, bytes])).toEqual([
    [0, good],
    [2, good],
  ]);
  expect(told).toEqual([1]);
  expect([...store.states(1)]).toHaveLength(2);
});
