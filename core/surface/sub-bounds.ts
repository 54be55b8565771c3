import { NOWHERE, placesFor, type PlaceReader } from './places';
import type { SurfaceMap } from './surface-map';
import { SUB_TEXELS } from './tiling';

/** The space each sub-tile takes up, so that a dab looks only at those it can touch. */
export function subTileBounds(
  { slotOfTile }: Pick<SurfaceMap, 'slotOfTile'>,
  reader: PlaceReader,
): Float32Array {
  const out = new Float32Array(slotOfTile.length * 4 * 6);
  const places = placesFor(SUB_TEXELS);
  const axes = [places.px, places.py, places.pz] as const;
  for (let sub = 0; sub < slotOfTile.length * 4; sub++) {
    const found = slotOfTile[sub >> 2]! >= 0 && reader.readSub(sub, places);
    axes.forEach((values, axis) => {
      let min = NOWHERE;
      let max = -NOWHERE;
      if (found) {
        for (const x of values) {
          if (x >= NOWHERE) continue;
          if (x < min) min = x;
          if (x > max) max = x;
        }
      }
      out[sub * 6 + axis] = min;
      out[sub * 6 + 3 + axis] = max;
    });
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
