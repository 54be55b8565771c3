import type { Topology } from '../mesh';
import { InsideOfEdge } from './inside-of-edge';
import { codeAt, INSIDE, placeOfTexel, texelOnSheet, type SurfaceMap } from './surface-map';

/** Left, right, up, down. */
const SIDES = [
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
] as const;

/**
 * The covered texels that hang together with one on the surface, over the borders of islands too, as far as a way over like ones goes.
 *
 * @param from a covered texel, by its number among all
 * @param like how much a texel belongs, 0..255: from 255 on it goes on, less than that is the way's end
 * @returns what each reached texel has, by its number
 */
export function floodTexels(
  map: SurfaceMap,
  { across, twisted, edges: table }: Topology,
  from: number,
  like: (texel: number) => number,
): Map<number, number> {
  const out = new Map<number, number>();
  const edges = new InsideOfEdge(map);
  const open: number[] = [];
  const reach = (texel: number): void => {
    if (texel < 0 || out.has(texel)) return;
    const value = like(texel);
    if (value <= 0) return;
    out.set(texel, value);
    if (value >= 255) open.push(texel);
  };
  reach(from);
  while (open.length) {
    const texel = open.pop()!;
    const island = map.islandOfFace[codeAt(map, texel) >> 2];
    const { sheet, x, y } = placeOfTexel(map.sheets, texel);
    const { size } = map.sheets[sheet]!;
    for (const [dx, dy] of SIDES) {
      if (x + dx < 0 || y + dy < 0 || x + dx >= size || y + dy >= size) continue;
      const next = texelOnSheet(map.sheets[sheet]!, x + dx, y + dy);
      const code = codeAt(map, next);
      if (code < 0 || map.islandOfFace[code >> 2] !== island) continue;
      if ((code & 3) === INSIDE) reach(next);
      else {
        // Over the island's border: to the triangle on the other side of that edge, wherever it lies. It runs along it the other way,
        // unless it faces the other way.
        const [face, k] = [code >> 2, code & 3];
        const other = across[face * 3 + k]!;
        if (other < 0) continue;
        const s = edges.along(face, k, x + dx + 0.5, y + dy + 0.5);
        const isSameWay = twisted[table.ofCorner[other]!] === 1;
        reach(edges.texel(Math.floor(other / 3), other % 3, isSameWay ? s : 1 - s));
      }
    }
  }
  return out;
}
