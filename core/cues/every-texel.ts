import { codesOfTile, formTiles, NOWHERE, TILE_TEXELS, type Places } from '../surface';
import { FILLED, fillCalmCells, plainCells } from './calm-cells';
import type { CueSurface, Spots } from './cue-surface';

/** 0..1 as the 16 bits of a cue. */
export const asWord = (value: number): number => {
  const v = Math.round(value * 65535);
  return v < 0 ? 0 : v > 65535 ? 65535 : v;
};

/**
 * A cue that follows from a texel's place alone.
 *
 * @param value 0..1 of a texel that something lies on, by its number in the tile
 * @returns 0..65535 a texel in the order of the map's codes
 */
export const everyTexel = (
  ground: CueSurface,
  value: (places: Places, texel: number) => number,
): Uint16Array => everySpot(ground, ({ places }, i) => value(places, i));

/**
 * A cue that is known at the vertices of the measured model, spread evenly over the triangles between.
 *
 * @param values one a vertex, 0..1
 */
export function spreadVertices(ground: CueSurface, values: Float32Array): Uint16Array {
  return everySpot(ground, (spots, i) =>
    spots.face[i]! < 0 ? 0 : betweenVertices(ground, values, spots, i),
  );
}

/** What values of vertices come to at a texel that lies in a triangle. */
export function betweenVertices(
  { mesh: { indices } }: CueSurface,
  values: ArrayLike<number>,
  { face, weights }: Spots,
  i: number,
): number {
  const f = face[i]! * 3;
  return (
    values[indices[f]!]! * weights[i * 3]! +
    values[indices[f + 1]!]! * weights[i * 3 + 1]! +
    values[indices[f + 2]!]! * weights[i * 3 + 2]!
  );
}

/** A cue that follows from a texel's place and triangle. */
export function everySpot(ground: CueSurface, value: (spots: Spots, texel: number) => number): Uint16Array {
  const { map } = ground;
  const out = new Uint16Array(map.codes.length);
  for (const tile of formTiles(map)) {
    const codes = codesOfTile(map, tile)!;
    const spots = ground.spots(tile)!;
    const base = map.slotOfTile[tile]! * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (codes[i]! < 0 || spots.places.px[i]! >= NOWHERE) continue;
      out[base + i] = asWord(value(spots, i));
    }
  }
  return out;
}

/**
 * The same for what costs much: reckoned in the middle of each 4 x 4 texels first, and where 3 x 3 of those agree filled by lines
 * between them; everywhere else texel by texel.
 */
export function everyCalmSpot(
  ground: CueSurface,
  value: (spots: Spots, texel: number) => number,
): Uint16Array {
  const { map } = ground;
  const out = new Uint16Array(map.codes.length);
  const part = new Uint16Array(TILE_TEXELS);
  for (const tile of formTiles(map)) {
    const codes = codesOfTile(map, tile)!;
    const spots = ground.spots(tile)!;
    const cells = plainCells(codes, spots.face, map.islandOfFace, ground.faceNormals);
    const values = Uint16Array.from(cells.middle, (i) => (i >= 0 ? asWord(value(spots, i)) : 0));
    part.fill(0);
    const filled = fillCalmCells(cells, values, part);
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (codes[i]! >= 0 && filled[i] !== FILLED) part[i] = asWord(value(spots, i));
    }
    out.set(part, map.slotOfTile[tile]! * TILE_TEXELS);
  }
  return out;
}
