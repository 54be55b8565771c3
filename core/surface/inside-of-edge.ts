import { sheetOfFace } from '../mesh';
import { codeAt, codeOnIsland, INSIDE, texelOnSheet, type SurfaceMap } from './surface-map';
import { flatTriangle, layTriangle, type FlatTriangle } from './triangle-on-sheet';

/** How far inside of the border a covered texel is looked for, texels. */
const STEPS_IN = [0.5, 1, 1.5] as const;

/** Finds covered texels just inside of the borders of islands. */
export class InsideOfEdge {
  private readonly map: SurfaceMap;
  private readonly flat: FlatTriangle = flatTriangle();
  private laid = -1;

  constructor(map: SurfaceMap) {
    this.map = map;
  }

  private lay(face: number): FlatTriangle {
    if (this.laid !== face) {
      const sheet = this.map.sheets[sheetOfFace(this.map.mesh, face)]!;
      layTriangle(this.map.mesh, face, sheet.size, this.flat);
      this.laid = face;
    }
    return this.flat;
  }

  /**
   * How far along an edge the nearest point to a place on its sheet lies, 0 at its first corner, 1 at its second.
   *
   * @param x, y texels from the upper left
   * @returns NaN for an edge without length, and for a triangle that goes round the sheet's border
   */
  along(face: number, k: number, x: number, y: number): number {
    const { at: t, stays } = this.lay(face);
    if (!stays) return NaN;
    const next = (k + 1) % 3;
    const [ax, ay] = [t[k * 2]!, t[k * 2 + 1]!];
    const [dx, dy] = [t[next * 2]! - ax, t[next * 2 + 1]! - ay];
    const long2 = dx * dx + dy * dy;
    if (long2 === 0) return NaN;
    return Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / long2));
  }

  /**
   * The covered texel of a triangle's island that lies just inside of a point of its edge k, from corner k to the next.
   *
   * @param s how far along it, 0..1
   * @param layer of places in which it is looked for, as the number of its first texel; left out: in any
   * @returns its number among all texels, of that layer; -1 where there is none
   */
  texel(face: number, k: number, s: number, layer?: number): number {
    const { map } = this;
    const { at: t, stays } = this.lay(face);
    if (!stays || Number.isNaN(s)) return -1;
    const sheet = map.sheets[sheetOfFace(map.mesh, face)]!;
    const next = (k + 1) % 3;
    const tip = (k + 2) % 3;
    const [ax, ay] = [t[k * 2]!, t[k * 2 + 1]!];
    const [dx, dy] = [t[next * 2]! - ax, t[next * 2 + 1]! - ay];
    const long = Math.hypot(dx, dy);
    if (long === 0) return -1;
    // Square to the edge, toward the third corner.
    const side = dx * (t[tip * 2 + 1]! - ay) - dy * (t[tip * 2]! - ax) < 0 ? -1 : 1;
    const [ix, iy] = [(-dy / long) * side, (dx / long) * side];
    // Where the edge ends, what lies square to it may lie beside the island: then from a little farther along.
    const least = Math.min(0.5, 0.75 / long);
    const safe = Math.min(1 - least, Math.max(least, s));
    for (let i = 0; i <= STEPS_IN.length; i++) {
      const step = STEPS_IN[i] ?? 0.75;
      const at = i < STEPS_IN.length ? s : safe;
      const x = Math.floor(ax + dx * at + ix * step);
      const y = Math.floor(ay + dy * at + iy * step);
      if (x < 0 || y < 0 || x >= sheet.size || y >= sheet.size) continue;
      const island = map.islandOfFace[face]!;
      const texel = texelOnSheet(sheet, x, y) + (layer ?? 0);
      const there = layer === undefined ? codeOnIsland(map, texel, island) : codeAt(map, texel);
      if (there < 0 || (there & 3) !== INSIDE) continue;
      if (map.islandOfFace[there >> 2] === island) return texel;
    }
    return -1;
  }
}
