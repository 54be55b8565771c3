import type { UvMesh } from '../mesh';
import { INSIDE, placeOfTexel, placeOfTile, type SurfaceMap } from './surface-map';
import { SUB, SUB_TEXELS, TILE_TEXELS } from './tiling';
import { flatTriangle, layTriangle } from './triangle-on-sheet';

/** A coordinate no dab can reach; it stands where nothing lies. Exact in 32 bits, so that it can be compared with. */
export const NOWHERE = Math.fround(1e18);

/** Places on the model, one a texel. */
export interface Places {
  /** Position, model units; NOWHERE where nothing lies. */
  readonly px: Float32Array;
  readonly py: Float32Array;
  readonly pz: Float32Array;
  /** Unit normal, each axis times 32767; 0 where nothing lies. */
  readonly nx: Int16Array;
  readonly ny: Int16Array;
  readonly nz: Int16Array;
}

/** Room for the places of so many texels. */
export const placesFor = (texels: number): Places => ({
  px: new Float32Array(texels),
  py: new Float32Array(texels),
  pz: new Float32Array(texels),
  nx: new Int16Array(texels),
  ny: new Int16Array(texels),
  nz: new Int16Array(texels),
});

/** Where a texel lies in its triangle. */
export interface Barycentric {
  face: number;
  w0: number;
  w1: number;
  w2: number;
}

/** Held here, since this is looked at once a texel. */
const inside = INSIDE;

/** Tiles' worth of places that a reader keeps for who asks again, 72 KB each: all of a sheet of 1024, or of a coarse larger one. */
const KEPT_TILES = 256;

/** Tells positions and normals of texels. A map holds which triangle they belong to; the rest is reckoned when it is asked for. */
export class PlaceReader {
  private readonly map: Omit<SurfaceMap, 'subBounds'>;
  private readonly mesh: UvMesh;
  private readonly flat = flatTriangle();
  /** Triangle and size of sheet that `flat` was laid for. */
  private laid = -1;
  private laidSize = 0;
  private inverse = 0;
  private readonly at: Barycentric = { face: -1, w0: 0, w1: 0, w2: 0 };
  private readonly kept = new Map<number, Places>();

  constructor(map: Omit<SurfaceMap, 'subBounds'>) {
    this.map = map;
    this.mesh = map.mesh;
  }

  /** Places of a sub-tile's 1024 texels, written from `out`'s start. @returns false if nothing lies in it */
  readSub(sub: number, out: Places): boolean {
    return this.read(sub >> 2, (sub & 3) * SUB_TEXELS, SUB_TEXELS, out);
  }

  /** Places of a tile's 4096 texels; to be read only. Null where nothing lies in it. */
  tile(tile: number): Places | null {
    if (this.map.slotOfTile[tile]! < 0) return null;
    let places = this.kept.get(tile);
    if (places) this.kept.delete(tile);
    else {
      places = placesFor(TILE_TEXELS);
      this.read(tile, 0, TILE_TEXELS, places);
      const [oldest] = this.kept.keys();
      if (this.kept.size >= KEPT_TILES && oldest !== undefined) this.kept.delete(oldest);
    }
    this.kept.set(tile, places);
    return places;
  }

  /**
   * Where one texel of all texels lies in its triangle.
   *
   * @returns false where nothing lies; `out` means nothing then
   */
  locate(texel: number, out: Barycentric): boolean {
    const slot = this.map.slotOfTile[Math.floor(texel / TILE_TEXELS)]!;
    const code = slot < 0 ? -1 : this.map.codes[slot * TILE_TEXELS + (texel % TILE_TEXELS)]!;
    if (code < 0) return false;
    const { sheet, x, y } = placeOfTexel(this.map.sheets, texel);
    this.weigh(code, this.map.sheets[sheet]!.size, x, y, out);
    return true;
  }

  /**
   * The position of a texel that has a code.
   *
   * @param x, y on a sheet of `size` texels a side
   * @param out receives xyz
   * @returns whether positions run evenly along a row of texels with this code, so that the ends of the row tell
   */
  position(code: number, size: number, x: number, y: number, out: Float32Array): boolean {
    const { at, mesh, flat } = this;
    this.weigh(code, size, x, y, at);
    const { positions: p, indices } = mesh;
    const a = indices[at.face * 3]! * 3;
    const b = indices[at.face * 3 + 1]! * 3;
    const c = indices[at.face * 3 + 2]! * 3;
    for (let k = 0; k < 3; k++) out[k] = p[a + k]! * at.w0 + p[b + k]! * at.w1 + p[c + k]! * at.w2;
    return flat.stays;
  }

  private read(tile: number, from: number, count: number, out: Places): boolean {
    const { map, mesh, at } = this;
    const { px, py, pz, nx, ny, nz } = out;
    const slot = map.slotOfTile[tile]!;
    if (slot < 0) {
      px.fill(NOWHERE, 0, count);
      py.fill(NOWHERE, 0, count);
      pz.fill(NOWHERE, 0, count);
      for (const n of [nx, ny, nz]) n.fill(0, 0, count);
      return false;
    }
    const { size, x: x0, y: y0 } = placeOfTile(map.sheets, tile);
    const { positions: p, normals: n, indices } = mesh;
    const codes = map.codes.subarray(slot * TILE_TEXELS + from, slot * TILE_TEXELS + from + count);
    const sub = SUB;
    let found = false;
    for (let o = 0; o < count; o++) {
      const i = from + o;
      const code = codes[o]!;
      if (code < 0) {
        px[o] = py[o] = pz[o] = NOWHERE;
        nx[o] = ny[o] = nz[o] = 0;
        continue;
      }
      found = true;
      const x = x0 + ((i >> 10) & 1) * sub + (i & 31);
      const y = y0 + (i >> 11) * sub + ((i >> 5) & 31);
      this.weigh(code, size, x, y, at);
      const { w0, w1, w2 } = at;
      const a = indices[at.face * 3]! * 3;
      const b = indices[at.face * 3 + 1]! * 3;
      const c = indices[at.face * 3 + 2]! * 3;
      px[o] = p[a]! * w0 + p[b]! * w1 + p[c]! * w2;
      py[o] = p[a + 1]! * w0 + p[b + 1]! * w1 + p[c + 1]! * w2;
      pz[o] = p[a + 2]! * w0 + p[b + 2]! * w1 + p[c + 2]! * w2;
      let u = n[a]! * w0 + n[b]! * w1 + n[c]! * w2;
      let v = n[a + 1]! * w0 + n[b + 1]! * w1 + n[c + 1]! * w2;
      let w = n[a + 2]! * w0 + n[b + 2]! * w1 + n[c + 2]! * w2;
      const l = Math.sqrt(u * u + v * v + w * w);
      if (l > 0) {
        u /= l;
        v /= l;
        w /= l;
      } else v = 1;
      nx[o] = Math.round(u * 32767);
      ny[o] = Math.round(v * 32767);
      nz[o] = Math.round(w * 32767);
    }
    return found;
  }

  /** The weights of a triangle's corners at texel (x, y) of a sheet. */
  private weigh(code: number, size: number, x: number, y: number, out: Barycentric): void {
    const face = code >> 2;
    const { flat } = this;
    const t = flat.at;
    if (this.laid !== face || this.laidSize !== size) {
      layTriangle(this.mesh, face, size, flat);
      this.laid = face;
      this.laidSize = size;
      this.inverse = 1 / ((t[2]! - t[0]!) * (t[5]! - t[1]!) - (t[3]! - t[1]!) * (t[4]! - t[0]!));
    }
    out.face = face;
    const k = code & 3;
    if (k === inside) {
      this.weighInside(x + 0.5, y + 0.5, out);
      if (flat.stays) return;
      // The triangle goes round the sheet's border: the first turn that finds the texel within it counts.
      for (let cy = y + 0.5; cy < TURNS * size; cy += size) {
        for (let cx = x + 0.5; cx < TURNS * size; cx += size) {
          this.weighInside(cx, cy, out);
          if (out.w0 >= 0 && out.w1 >= 0 && out.w2 >= 0) return;
        }
      }
      return;
    }
    let best = Infinity;
    if (flat.stays) this.weighEdge(k, x + 0.5, y + 0.5, best, out);
    else {
      for (let cy = y + 0.5 - size; cy < TURNS * size; cy += size) {
        for (let cx = x + 0.5 - size; cx < TURNS * size; cx += size)
          best = this.weighEdge(k, cx, cy, best, out);
      }
    }
  }

  private weighInside(cx: number, cy: number, out: Barycentric): void {
    const t = this.flat.at;
    const x0 = t[0]!;
    const y0 = t[1]!;
    const x1 = t[2]!;
    const y1 = t[3]!;
    const x2 = t[4]!;
    const y2 = t[5]!;
    out.w0 = ((x2 - x1) * (cy - y1) - (y2 - y1) * (cx - x1)) * this.inverse;
    out.w1 = ((x0 - x2) * (cy - y2) - (y0 - y2) * (cx - x2)) * this.inverse;
    out.w2 = ((x1 - x0) * (cy - y0) - (y1 - y0) * (cx - x0)) * this.inverse;
  }

  /** The nearest point of edge k, if it is nearer than `best` (squared texels). @returns how near the nearest is now */
  private weighEdge(k: number, cx: number, cy: number, best: number, out: Barycentric): number {
    const t = this.flat.at;
    const next = (k + 1) % 3;
    const ax = t[k * 2]!;
    const ay = t[k * 2 + 1]!;
    const dx = t[next * 2]! - ax;
    const dy = t[next * 2 + 1]! - ay;
    const squared = dx * dx + dy * dy;
    const qx = cx - ax;
    const qy = cy - ay;
    let s = squared > 0 ? (qx * dx + qy * dy) / squared : 0;
    s = s < 0 ? 0 : s > 1 ? 1 : s;
    const ex = qx - dx * s;
    const ey = qy - dy * s;
    const d2 = ex * ex + ey * ey;
    if (d2 >= best) return best;
    out.w0 = k === 0 ? 1 - s : next === 0 ? s : 0;
    out.w1 = k === 1 ? 1 - s : next === 1 ? s : 0;
    out.w2 = k === 2 ? 1 - s : next === 2 ? s : 0;
    return d2;
  }
}

/** Sheets that a triangle which goes round may span, counted from the one it begins in. */
const TURNS = 6;
