import type { FaceMap, ModelMove } from '../follow';
import { sheetOfFace } from '../mesh';
import {
  codesOfTile,
  filledTiles,
  flatTriangle,
  INSIDE,
  layersOfTile,
  layTriangle,
  sizesKey,
  SUB,
  texelOnSheet,
  TILE_TEXELS,
  wrap,
  type SurfaceMap,
} from '../surface';

/** Of a part's texels so many are the part's again, if its layout is the same. */
const SAME_TEXELS = 0.98;

/** Of neighbouring texels so many may lie on one island before and on two after, or the other way about. */
const OTHER_BORDERS = 0.002;

interface Cover {
  before: number;
  after: number;
  both: number;
  pairs: number;
  parted: number;
}

/**
 * Parts of another model whose layout is that of the part of the same name, however their triangles are cut: every texel keeps its place in
 * them.
 *
 * @returns their numbers on the model that comes
 */
export function keptParts(from: SurfaceMap, to: SurfaceMap, renamed: ModelMove['renamed']): number[] {
  if (sizesKey(from.sheets) !== sizesKey(to.sheets)) return [];
  const names = new Map(renamed);
  const now = from.mesh.parts.map((name) => to.mesh.parts.indexOf(names.get(name) ?? name));
  const covers = to.mesh.parts.map((): Cover => ({ before: 0, after: 0, both: 0, pairs: 0, parted: 0 }));
  for (const tile of new Set([...filledTiles(from), ...filledTiles(to)])) {
    const was = partsOfTile(from, tile, (face) => now[from.mesh.faceParts[face]!]!);
    const is = partsOfTile(to, tile, (face) => to.mesh.faceParts[face]!);
    for (let k = 0; k < TILE_TEXELS; k++) {
      for (const [part] of was[k] ?? []) if (part >= 0) covers[part]!.before++;
      for (const [part, island] of is[k] ?? []) {
        const cover = covers[part]!;
        cover.after++;
        const before = was[k]?.get(part);
        if (before === undefined) continue;
        cover.both++;
        if (k % SUB === SUB - 1) continue;
        const beside = [was[k + 1]?.get(part), is[k + 1]?.get(part)];
        if (beside[0] === undefined || beside[1] === undefined) continue;
        cover.pairs++;
        if ((beside[0] === before) !== (beside[1] === island)) cover.parted++;
      }
    }
  }
  return covers.flatMap(({ before, after, both, pairs, parted }, part) =>
    both >= SAME_TEXELS * Math.max(before, after) && both > 0 && parted <= OTHER_BORDERS * pairs
      ? [part]
      : [],
  );
}

/** The parts that show each texel of a tile, and on which island. Gutter counts for none. */
function partsOfTile(
  map: SurfaceMap,
  tile: number,
  partOf: (face: number) => number,
): (Map<number, number> | undefined)[] {
  const out = new Array<Map<number, number> | undefined>(TILE_TEXELS);
  for (const layer of layersOfTile(map, tile)) {
    const codes = codesOfTile(map, layer)!;
    for (let k = 0; k < TILE_TEXELS; k++) {
      const code = codes[k]!;
      if (code < 0 || (code & 3) !== INSIDE) continue;
      const part = partOf(code >> 2);
      const parts = (out[k] ??= new Map());
      if (!parts.has(part)) parts.set(part, map.islandOfFace[code >> 2]!);
    }
  }
  return out;
}

/** The same map, but that triangles of kept parts go by the ones that lie where they lie on their sheet. */
export function facesOnSheets(
  faces: FaceMap,
  from: SurfaceMap,
  to: SurfaceMap,
  renamed: ModelMove['renamed'],
  kept: readonly number[],
): FaceMap {
  if (kept.length === 0) return faces;
  const names = new Map(renamed);
  const nameOf = (face: number): string => {
    const name = from.mesh.parts[from.mesh.faceParts[face]!]!;
    return names.get(name) ?? name;
  };
  const source = faces.source.slice();
  const { faceParts, parts } = to.mesh;
  for (let f = 0; f < source.length; f++) {
    const texel = kept.includes(faceParts[f]!) ? middleTexel(to, f) : -1;
    for (const layer of texel < 0 ? [] : layersOfTile(from, Math.floor(texel / TILE_TEXELS))) {
      const code = codesOfTile(from, layer)![texel % TILE_TEXELS]!;
      if (code < 0 || nameOf(code >> 2) !== parts[faceParts[f]!]) continue;
      source[f] = code >> 2;
      break;
    }
  }
  return { ...faces, source, kept };
}

const flat = flatTriangle();

/** The texel in the middle of a triangle on its sheet; -1 where it has none. */
function middleTexel({ mesh, sheets }: SurfaceMap, face: number): number {
  const sheet = sheets[sheetOfFace(mesh, face)]!;
  if (!layTriangle(mesh, face, sheet.size, flat)) return -1;
  const middle = (axis: 0 | 1): number => {
    const at = Math.floor((flat.at[axis]! + flat.at[axis + 2]! + flat.at[axis + 4]!) / 3);
    return flat.stays ? Math.min(sheet.size - 1, Math.max(0, at)) : wrap(at, sheet.size);
  };
  return texelOnSheet(sheet, middle(0), middle(1));
}
