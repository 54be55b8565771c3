import { NOWHERE, type PlaceReader } from './places';
import { placeOfTile, type SurfaceMap } from './surface-map';
import { SUB, SUB_TEXELS, TILE_TEXELS } from './tiling';

/** Runs of texels are looked at by their ends. In between, a position may lie outside by rounding to 32 bits: boxes are this part wider. */
const ROUNDING = 2e-7;

/** The space each sub-tile takes up, so that a dab looks only at those it can touch. */
export function subTileBounds(
  map: Pick<SurfaceMap, 'slotOfTile' | 'codes' | 'sheets'>,
  reader: PlaceReader,
): Float32Array {
  const { slotOfTile, codes, sheets } = map;
  const out = new Float32Array(slotOfTile.length * 4 * 6);
  const at = new Float32Array(3);
  for (let tile = 0; tile < slotOfTile.length; tile++) {
    for (let o = tile * 4 * 6; o < (tile + 1) * 4 * 6; o += 6)
      out.fill(NOWHERE, o, o + 3).fill(-NOWHERE, o + 3, o + 6);
    if (slotOfTile[tile]! < 0) continue;
    const { size, x: left, y: top } = placeOfTile(sheets, tile);
    for (let sub = 0; sub < 4; sub++) {
      const o = (tile * 4 + sub) * 6;
      const from = slotOfTile[tile]! * TILE_TEXELS + sub * SUB_TEXELS;
      const x0 = left + (sub & 1) * SUB;
      const y0 = top + (sub >> 1) * SUB;
      let even = false;
      for (let i = 0; i < SUB_TEXELS; i++) {
        const code = codes[from + i]!;
        if (code < 0) continue;
        const isEnd =
          (i & 31) === 0 || (i & 31) === 31 || codes[from + i - 1] !== code || codes[from + i + 1] !== code;
        if (!isEnd && even) continue;
        even = reader.position(code, size, x0 + (i & 31), y0 + (i >> 5), at);
        for (let k = 0; k < 3; k++) {
          const pad = Math.abs(at[k]!) * ROUNDING;
          out[o + k] = Math.min(out[o + k]!, at[k]! - pad);
          out[o + 3 + k] = Math.max(out[o + 3 + k]!, at[k]! + pad);
        }
      }
    }
  }
  return out;
}

/** Boxes of one level stand together in the one above. */
const FAN = 16;

/** Finds the sub-tiles near a place: boxes over 16 sub-tiles, over 256, and so on. */
export class SubTileFinder {
  /** From the sub-tiles themselves upward; 6 numbers a box. */
  private readonly levels: readonly Float32Array[];

  constructor(subBounds: Float32Array) {
    const levels = [subBounds];
    for (let below = subBounds; below.length / 6 > FAN; below = levels.at(-1)!) {
      const above = new Float32Array(Math.ceil(below.length / 6 / FAN) * 6);
      for (let i = 0; i < above.length / 6; i++) {
        for (let axis = 0; axis < 6; axis++) {
          let value = axis < 3 ? NOWHERE : -NOWHERE;
          for (let k = i * FAN; k < Math.min((i + 1) * FAN, below.length / 6); k++) {
            const x = below[k * 6 + axis]!;
            value = axis < 3 ? Math.min(value, x) : Math.max(value, x);
          }
          above[i * 6 + axis] = value;
        }
      }
      levels.push(above);
    }
    this.levels = levels;
  }

  /**
   * @param from, to only sub-tiles from `from` up to but not `to`
   * @param found receives those whose box a ball touches, in order
   */
  near(x: number, y: number, z: number, radius: number, from: number, to: number, found: number[]): void {
    const { levels } = this;
    const r2 = radius * radius;
    const visit = (level: number, index: number): void => {
      const b = levels[level]!;
      const o = index * 6;
      const ex = Math.max(b[o]! - x, x - b[o + 3]!, 0);
      const ey = Math.max(b[o + 1]! - y, y - b[o + 4]!, 0);
      const ez = Math.max(b[o + 2]! - z, z - b[o + 5]!, 0);
      if (ex * ex + ey * ey + ez * ez > r2) return;
      if (level === 0) {
        if (index >= from && index < to) found.push(index);
        return;
      }
      const last = Math.min((index + 1) * FAN, levels[level - 1]!.length / 6);
      for (let k = index * FAN; k < last; k++) visit(level - 1, k);
    };
    const top = levels.length - 1;
    for (let i = 0; i < levels[top]!.length / 6; i++) visit(top, i);
  }
}
