import {
  filledTiles,
  NOWHERE,
  PlaceReader,
  TILE_TEXELS,
  type Barycentric,
  type Places,
  type SurfaceMap,
} from '../surface';

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
export function everyTexel(map: SurfaceMap, value: (places: Places, texel: number) => number): Uint16Array {
  const out = new Uint16Array(map.codes.length);
  const reader = new PlaceReader(map);
  for (const tile of filledTiles(map)) {
    const places = reader.tile(tile)!;
    const base = map.slotOfTile[tile]! * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (places.px[i]! >= NOWHERE) continue;
      out[base + i] = asWord(value(places, i));
    }
  }
  return out;
}

/**
 * A cue that is known at the vertices, spread evenly over the triangles between.
 *
 * @param values one a vertex of the map's mesh, 0..1
 */
export function spreadVertices(map: SurfaceMap, values: Float32Array): Uint16Array {
  const { indices } = map.mesh;
  const out = new Uint16Array(map.codes.length);
  const reader = new PlaceReader(map);
  const at: Barycentric = { face: -1, w0: 0, w1: 0, w2: 0 };
  for (const tile of filledTiles(map)) {
    const base = map.slotOfTile[tile]! * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (!reader.locate(tile * TILE_TEXELS + i, at)) continue;
      const f = at.face * 3;
      out[base + i] = asWord(
        values[indices[f]!]! * at.w0 + values[indices[f + 1]!]! * at.w1 + values[indices[f + 2]!]! * at.w2,
      );
    }
  }
  return out;
}
