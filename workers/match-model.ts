import type { UvMesh } from '../core/mesh';
import { SUB, TILE, TILE_BYTES, sheetOfTile, tilesAcross, type SheetSpan } from '../core/surface';

/** What is compared with the reference: the model and its albedo as it is now. */
export interface MatchModel {
  readonly mesh: UvMesh;
  readonly spans: readonly SheetSpan[];
  /** RGBA rows a sheet. */
  readonly pictures: readonly Uint8Array[];
}

/** Puts the sub-tiles of a tile that have changed into its sheet. @param index which of the tiles in `pixels` it is */
export function copyTile(
  { spans, pictures }: MatchModel,
  number: number,
  subs: number,
  pixels: Uint8Array,
  index: number,
): void {
  const sheet = sheetOfTile(spans, number);
  const { size, firstTile } = spans[sheet]!;
  const across = tilesAcross(size);
  const tile = number - firstTile;
  const [x, y] = [(tile % across) * TILE, Math.floor(tile / across) * TILE];
  for (let row = 0; row < TILE; row++) {
    for (let half = 0; half < 2; half++) {
      if (!(subs & (1 << ((row >> 5) * 2 + half)))) continue;
      const from = index * TILE_BYTES + (row * TILE + half * SUB) * 4;
      pictures[sheet]!.set(pixels.subarray(from, from + SUB * 4), ((y + row) * size + x + half * SUB) * 4);
    }
  }
}
