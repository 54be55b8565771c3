import { faceGeometry } from '../mesh';
import {
  codesOfTile,
  formTiles,
  gutterHomes,
  INSIDE,
  PlaceReader,
  placeOfTile,
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

/** Triangles whose normals' cosine is less than this (37°) meet in an edge. */
const SAME_SIDE = 0.8;

/**
 * Values that differ by more than this times the spread of a mean of so many rays (at most 1/2 over the root of their number) do so
 * because something begins there: a contact, the rim of a shadow.
 */
const JUMP = 2.4;

/** The fewest rays by which a jump is judged: a single ray says only yes or no. */
const FEWEST = 16;

/** A tile with its surroundings. */
const WINDOW = TILE + 2 * SMOOTH_REACH;

/**
 * Evens out the pattern of the rays over 5 x 5 texels that lie near one another on the model, on one island and on much the same side,
 * never over an edge or a contact. Where some of them are left out the value is that of a plane through the rest (local linear
 * regression; W. Cleveland 1979), since their mean alone would be that of a place farther in. Gutter takes what is just inside.
 *
 * @param values 0..65535, in the order of the map's codes
 * @param rays that each is the mean of
 */
export function smoothCue(map: SurfaceMap, values: Uint16Array, rays: number): Uint16Array {
  const out = new Uint16Array(values.length);
  const window = new Window(map, values, rays);
  const homes = new Int32Array(TILE_TEXELS);
  for (const tile of formTiles(map)) {
    const from = map.slotOfTile[tile]! * TILE_TEXELS;
    window.smooth(tile, out.subarray(from, from + TILE_TEXELS));
  }
  for (const tile of formTiles(map)) {
    gutterHomes(map, tile, homes);
    const base = map.slotOfTile[tile]! * TILE_TEXELS;
    homes.forEach((home, i) => {
      if (home < 0) return;
      out[base + i] =
        out[map.slotOfTile[Math.floor(home / TILE_TEXELS)]! * TILE_TEXELS + (home % TILE_TEXELS)]!;
    });
  }
  return out;
}

/** Rows of a tile and of the texels around it. */
class Window {
  private readonly map: SurfaceMap;
  private readonly values: Uint16Array;
  private readonly jump: number;
  private readonly reader: PlaceReader;
  private readonly faceNormals: Float64Array;
  /** The triangle of a covered texel; -1 for gutter and nothing. */
  private readonly face = new Int32Array(WINDOW * WINDOW);
  private readonly value = new Uint16Array(WINDOW * WINDOW);
  private readonly place = new Float32Array(WINDOW * WINDOW * 3);
  /** Its island, and its triangle's normal. */
  private readonly island = new Int32Array(WINDOW * WINDOW);
  private readonly normal = new Float32Array(WINDOW * WINDOW * 3);

  constructor(map: SurfaceMap, values: Uint16Array, rays: number) {
    this.map = map;
    this.values = values;
    // A light like a point has hard shadows, whose steps are what is to be evened out.
    this.jump = rays === 1 ? Infinity : (65535 * JUMP) / 2 / Math.sqrt(Math.max(rays, FEWEST));
    this.reader = new PlaceReader(map);
    this.faceNormals = faceGeometry(map.mesh).normals;
  }

  smooth(tile: number, out: Uint16Array): void {
    const { map, face, value } = this;
    const { texelLength } = map.sheets[sheetOfTile(map.sheets, tile)]!;
    this.gather(tile);
    const own = map.slotOfTile[tile]! * TILE_TEXELS;
    const far = (texelLength * FAR) ** 2;
    for (let y = 0; y < TILE; y++) {
      for (let x = 0; x < TILE; x++) {
        const i = (y + SMOOTH_REACH) * WINDOW + x + SMOOTH_REACH;
        const at = (y >> 5) * SUB * TILE + (x >> 5) * SUB * SUB + (y & 31) * SUB + (x & 31);
        out[at] = face[i]! < 0 ? this.values[own + at]! : this.even(i, value[i]!, far);
      }
    }
  }

  /** The value of texel i of the window, evened out. */
  private even(i: number, centre: number, far: number): number {
    const { value, jump } = this;
    let n = 0;
    let s0 = 0;
    let su = 0;
    let sv = 0;
    let suu = 0;
    let suv = 0;
    let svv = 0;
    let sz = 0;
    let suz = 0;
    let svz = 0;
    let low = centre;
    let high = centre;
    for (let v = -SMOOTH_REACH; v <= SMOOTH_REACH; v++) {
      for (let u = -SMOOTH_REACH; u <= SMOOTH_REACH; u++) {
        const j = i + v * WINDOW + u;
        if (!this.belong(i, j, far)) continue;
        const z = value[j]!;
        if (Math.abs(z - centre) > jump) continue;
        // Weights 1 2 2 2 1 each way give every one of the 16 turns of the rays the same share.
        const w = (Math.abs(u) < SMOOTH_REACH ? 2 : 1) * (Math.abs(v) < SMOOTH_REACH ? 2 : 1);
        n++;
        s0 += w;
        su += w * u;
        sv += w * v;
        suu += w * u * u;
        suv += w * u * v;
        svv += w * v * v;
        sz += w * z;
        suz += w * u * z;
        svz += w * v * z;
        if (z < low) low = z;
        if (z > high) high = z;
      }
    }
    const mean = sz / s0;
    if (n === (2 * SMOOTH_REACH + 1) ** 2) return Math.round(mean);
    // The plane's value here, by Cramer's rule; too few texels, or texels in one line, have none.
    const det = s0 * (suu * svv - suv * suv) - su * (su * svv - suv * sv) + sv * (su * suv - suu * sv);
    if (n < 6 || det < 1e-3 * s0 * s0 * s0) return Math.round(mean);
    const top = sz * (suu * svv - suv * suv) - su * (suz * svv - suv * svz) + sv * (suz * suv - suu * svz);
    const plane = top / det;
    return Math.round(plane < low ? low : plane > high ? high : plane);
  }

  /** Whether what is measured at texel j of the window tells of texel i too. */
  private belong(i: number, j: number, far: number): boolean {
    const { face, place, normal: n, island } = this;
    if (face[j]! < 0 || island[i] !== island[j]) return false;
    const dx = place[j * 3]! - place[i * 3]!;
    const dy = place[j * 3 + 1]! - place[i * 3 + 1]!;
    const dz = place[j * 3 + 2]! - place[i * 3 + 2]!;
    if (dx * dx + dy * dy + dz * dz > far) return false;
    if (face[i] === face[j]) return true;
    const cos = n[i * 3]! * n[j * 3]! + n[i * 3 + 1]! * n[j * 3 + 1]! + n[i * 3 + 2]! * n[j * 3 + 2]!;
    return cos >= SAME_SIDE;
  }

  /** @param tile of any layer of places: its neighbours are those of the same */
  private gather(tile: number): void {
    const { map, face, value, place, island, normal, faceNormals } = this;
    const { size, x, y } = placeOfTile(map.sheets, tile);
    const across = tilesAcross(size);
    const first = tile - (y / TILE) * across - x / TILE;
    const left = x - SMOOTH_REACH;
    const top = y - SMOOTH_REACH;
    face.fill(-1);
    for (let ty = (top + SMOOTH_REACH) / TILE - 1; ty <= (top + SMOOTH_REACH) / TILE + 1; ty++) {
      for (let tx = (left + SMOOTH_REACH) / TILE - 1; tx <= (left + SMOOTH_REACH) / TILE + 1; tx++) {
        if (tx < 0 || ty < 0 || tx >= across || ty >= across) continue;
        const number = first + ty * across + tx;
        const codes = codesOfTile(map, number);
        const places = this.reader.tile(number);
        if (!codes || !places) continue;
        const base = map.slotOfTile[number]! * TILE_TEXELS;
        const { px, py, pz } = places;
        for (let y = Math.max(top, ty * TILE); y < Math.min(top + WINDOW, (ty + 1) * TILE); y++) {
          for (let x = Math.max(left, tx * TILE); x < Math.min(left + WINDOW, (tx + 1) * TILE); x++) {
            const k = ((y >> 5) & 1) * SUB * TILE + ((x >> 5) & 1) * SUB * SUB + (y & 31) * SUB + (x & 31);
            if (codes[k]! < 0 || (codes[k]! & 3) !== INSIDE) continue;
            const o = (y - top) * WINDOW + x - left;
            const f = codes[k]! >> 2;
            face[o] = f;
            island[o] = map.islandOfFace[f]!;
            value[o] = this.values[base + k]!;
            place[o * 3] = px[k]!;
            place[o * 3 + 1] = py[k]!;
            place[o * 3 + 2] = pz[k]!;
            for (let c = 0; c < 3; c++) normal[o * 3 + c] = faceNormals[f * 3 + c]!;
          }
        }
      }
    }
  }
}
