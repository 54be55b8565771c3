import {
  codesOfTile,
  filledTiles,
  PlaceReader,
  sheetOfTile,
  SUB,
  TILE,
  TILE_TEXELS,
  tilesAcross,
  type SurfaceMap,
} from '../surface';

/** Texels each way that are averaged, and how far off they may lie on the model, in lengths of a texel. */
const SMOOTH_REACH = 2;
const FAR = SMOOTH_REACH * 3;

/** Normals whose cosine is less than this show to different sides. */
const SAME_SIDE = 0.9;

/** A tile with its surroundings. */
const WINDOW = TILE + 2 * SMOOTH_REACH;

/**
 * Averages a ray-cast cue over 5 x 5 texels that lie near one another on the model, on one island and on much the same side,
 * which evens out the pattern of the rays.
 *
 * @param values 0..65535, in the order of the map's codes
 */
export function smoothCue(map: SurfaceMap, values: Uint16Array): Uint16Array {
  const out = new Uint16Array(values.length);
  const window = new Window(map, values);
  for (const tile of filledTiles(map)) {
    const from = map.slotOfTile[tile]! * TILE_TEXELS;
    window.smooth(tile, out.subarray(from, from + TILE_TEXELS));
  }
  return out;
}

/** Rows of a tile and of the texels around it. */
class Window {
  private readonly map: SurfaceMap;
  private readonly values: Uint16Array;
  private readonly reader: PlaceReader;
  private readonly island = new Int32Array(WINDOW * WINDOW);
  private readonly value = new Uint16Array(WINDOW * WINDOW);
  private readonly place = new Float32Array(WINDOW * WINDOW * 3);
  private readonly normal = new Int16Array(WINDOW * WINDOW * 3);

  constructor(map: SurfaceMap, values: Uint16Array) {
    this.map = map;
    this.values = values;
    this.reader = new PlaceReader(map);
  }

  smooth(tile: number, out: Uint16Array): void {
    const { map, island, value, place, normal } = this;
    const { size, firstTile, texelLength } = map.sheets[sheetOfTile(map.sheets, tile)]!;
    this.gather(size, firstTile, tile - firstTile);
    const far = (texelLength * FAR) ** 2;
    const sameSide = SAME_SIDE * 32767 * 32767;
    for (let y = 0; y < TILE; y++) {
      for (let x = 0; x < TILE; x++) {
        const i = (y + SMOOTH_REACH) * WINDOW + x + SMOOTH_REACH;
        if (island[i]! < 0) continue;
        let sum = 0;
        let weight = 0;
        for (let v = -SMOOTH_REACH; v <= SMOOTH_REACH; v++) {
          for (let u = -SMOOTH_REACH; u <= SMOOTH_REACH; u++) {
            const j = i + v * WINDOW + u;
            if (island[j] !== island[i]) continue;
            const dx = place[j * 3]! - place[i * 3]!;
            const dy = place[j * 3 + 1]! - place[i * 3 + 1]!;
            const dz = place[j * 3 + 2]! - place[i * 3 + 2]!;
            if (dx * dx + dy * dy + dz * dz > far) continue;
            const cos =
              normal[i * 3]! * normal[j * 3]! +
              normal[i * 3 + 1]! * normal[j * 3 + 1]! +
              normal[i * 3 + 2]! * normal[j * 3 + 2]!;
            if (cos < sameSide) continue;
            // Weights 1 2 2 2 1 each way give every one of the 16 turns of the rays the same share.
            const w = (Math.abs(u) < SMOOTH_REACH ? 2 : 1) * (Math.abs(v) < SMOOTH_REACH ? 2 : 1);
            sum += value[j]! * w;
            weight += w;
          }
        }
        out[(y >> 5) * SUB * TILE + (x >> 5) * SUB * SUB + (y & 31) * SUB + (x & 31)] = Math.round(
          sum / weight,
        );
      }
    }
  }

  /** @param tile its number on its sheet */
  private gather(size: number, firstTile: number, tile: number): void {
    const { map, island, value, place, normal } = this;
    const across = tilesAcross(size);
    const left = (tile % across) * TILE - SMOOTH_REACH;
    const top = Math.floor(tile / across) * TILE - SMOOTH_REACH;
    island.fill(-1);
    for (let ty = (top + SMOOTH_REACH) / TILE - 1; ty <= (top + SMOOTH_REACH) / TILE + 1; ty++) {
      for (let tx = (left + SMOOTH_REACH) / TILE - 1; tx <= (left + SMOOTH_REACH) / TILE + 1; tx++) {
        if (tx < 0 || ty < 0 || tx >= across || ty >= across) continue;
        const number = firstTile + ty * across + tx;
        const codes = codesOfTile(map, number);
        const places = this.reader.tile(number);
        if (!codes || !places) continue;
        const base = map.slotOfTile[number]! * TILE_TEXELS;
        const { px, py, pz, nx, ny, nz } = places;
        for (let y = Math.max(top, ty * TILE); y < Math.min(top + WINDOW, (ty + 1) * TILE); y++) {
          for (let x = Math.max(left, tx * TILE); x < Math.min(left + WINDOW, (tx + 1) * TILE); x++) {
            const k = ((y >> 5) & 1) * SUB * TILE + ((x >> 5) & 1) * SUB * SUB + (y & 31) * SUB + (x & 31);
            if (codes[k]! < 0) continue;
            const o = (y - top) * WINDOW + x - left;
            island[o] = map.islandOfFace[codes[k]! >> 2]!;
            value[o] = this.values[base + k]!;
            place[o * 3] = px[k]!;
            place[o * 3 + 1] = py[k]!;
            place[o * 3 + 2] = pz[k]!;
            normal[o * 3] = nx[k]!;
            normal[o * 3 + 1] = ny[k]!;
            normal[o * 3 + 2] = nz[k]!;
          }
        }
      }
    }
  }
}
