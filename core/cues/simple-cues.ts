import { AXES, type Axis } from './cue';
import { boundsOf, type Mesh } from '../mesh';
import { normalize } from '../math';
import { filledTiles, NOWHERE, PlaceReader, TILE_TEXELS, type Places, type SurfaceMap } from '../surface';

/** Height within the model's box: 0 at its lowest, 1 at its highest point along the axis; times 65535. */
export function heightCue(mesh: Mesh, map: SurfaceMap, axis: Axis): Uint16Array {
  const k = AXES.indexOf(axis);
  const { min, max } = boundsOf(mesh.positions);
  const low = min[k]!;
  const range = max[k]! - low;
  return everyTexel(map, (places, i) => {
    const value = (k === 0 ? places.px : k === 1 ? places.py : places.pz)[i]!;
    return range > 0 ? (value - low) / range : 0;
  });
}

/**
 * How far the surface turns toward a direction: (1 + cos angle) / 2, so 1 facing it, 0.5 square to it, 0 facing away; times
 * 65535. With direction up it is the part of the sky that a tilted plane sees (Liu and Jordan 1963).
 */
export function facingCue(map: SurfaceMap, direction: readonly [number, number, number]): Uint16Array {
  const [x, y, z] = normalize(direction);
  return everyTexel(map, ({ nx, ny, nz }, i) => {
    const cos = (nx[i]! * x + ny[i]! * y + nz[i]! * z) / 32767;
    return (1 + cos) / 2;
  });
}

/** @param value 0..1 of a texel that something lies on, by its number in the tile */
function everyTexel(map: SurfaceMap, value: (places: Places, texel: number) => number): Uint16Array {
  const out = new Uint16Array(map.codes.length);
  const reader = new PlaceReader(map);
  for (const tile of filledTiles(map)) {
    const places = reader.tile(tile)!;
    const base = map.slotOfTile[tile]! * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (places.px[i]! >= NOWHERE) continue;
      const v = Math.round(value(places, i) * 65535);
      out[base + i] = v < 0 ? 0 : v > 65535 ? 65535 : v;
    }
  }
  return out;
}
