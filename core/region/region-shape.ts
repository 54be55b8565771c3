import { faceGeometry, faceMask, type FaceRuns } from '../mesh';
import {
  codesOfTile,
  layersOfTile,
  placeLayers,
  PlaceReader,
  texelLengths,
  TILE_TEXELS,
  type Places,
  type SurfaceMap,
} from '../surface';
import { insideOutline, NUMBERS_A_FACE, type Cut, type Inside } from './cut';

/** A region over a surface's texels. */
export interface RegionShape {
  /** 0 outside, 1 inside, 2 cut through, a triangle. */
  readonly faces: Uint8Array;
  /** How much of the texels of a tile lies inside, 0..255; null where the triangles tell. To be read only. */
  coverage(tile: number): Uint8Array | null;
  /** The same of one texel, by its number in the tile and its code. */
  at(tile: number, texel: number, code: number): number;
}

/** What a region or a guard consists of. */
export interface Area {
  readonly faces: readonly number[] | { readonly runs: FaceRuns };
  readonly cuts: readonly Cut[];
}

/** Tiles whose coverage is kept, 4 KB each. */
const KEPT = 512;

/** Lays a region out over a surface. Borders through triangles are smooth over one texel. */
export function regionShape(surface: SurfaceMap, area: Area, reader = new PlaceReader(surface)): RegionShape {
  const count = surface.mesh.faceParts.length;
  const whole = 'runs' in area.faces ? faceMask(count, area.faces.runs) : maskOf(count, area.faces);
  const { cuts } = area;
  if (cuts.length === 0) {
    return {
      faces: whole,
      coverage: () => null,
      at: (_tile, _texel, code) => (code >= 0 ? whole[code >> 2]! * 255 : 0),
    };
  }
  const cutFaces = cuts.map((cut) => faceMask(count, cut.faces));
  const ways = cuts.map((cut, k) => (cut.flat ? placesInOrder(cutFaces[k]!) : null));
  const faces = whole.slice();
  for (const mask of cutFaces) mask.forEach((is, f) => is && (faces[f] = 2));
  const texels = texelLengths(surface);
  const { normals } = faceGeometry(surface.mesh);
  const kept = new Map<number, Uint8Array | null>();

  const covered = (places: Places, i: number, face: number, tile: number): number => {
    let value = whole[face]!;
    const { px, py, pz } = places;
    cuts.forEach((cut, k) => {
      if (!cutFaces[k]![face]) return;
      const p = [px[i]!, py[i]!, pz[i]!] as const;
      const way = ways[k];
      const view = way ? flatView(cut.flat!, way.get(face)!) : cut.view;
      const part = partInside(view, cut.outline, p, normals, face, texels(face, tile));
      value = cut.how === 'add' ? value + (1 - value) * part : value * (1 - part);
    });
    return Math.round(value * 255);
  };

  const coverage = (tile: number): Uint8Array | null => {
    let known = kept.get(tile);
    if (known !== undefined) return known;
    const codes = codesOfTile(surface, tile);
    const isCut = codes?.some((code) => code >= 0 && faces[code >> 2] === 2);
    known = null;
    if (codes && isCut) {
      const places = reader.tile(tile)!;
      known = Uint8Array.from({ length: TILE_TEXELS }, (_, i) => {
        const code = codes[i]!;
        if (code < 0) return 0;
        const face = code >> 2;
        return faces[face] === 2 ? covered(places, i, face, tile) : whole[face]! * 255;
      });
    }
    if (kept.size >= KEPT) kept.delete(kept.keys().next().value!);
    kept.set(tile, known);
    return known;
  };
  return {
    faces,
    coverage,
    at: (tile, texel, code) => {
      if (code < 0) return 0;
      return faces[code >> 2] === 2 ? (coverage(tile)?.[texel] ?? 0) : whole[code >> 2]! * 255;
    },
  };
}

/** The same region as texels show it: one that several places share belongs to it by any of them. */
export function shownShape(surface: SurfaceMap, shape: RegionShape): RegionShape {
  if (placeLayers(surface) < 2) return shape;
  const at: RegionShape['at'] = (tile, texel, code) => {
    let most = shape.at(tile, texel, code);
    if (code < 0 || most === 255) return most;
    for (const layer of layersOfTile(surface, tile))
      most = Math.max(most, shape.at(layer, texel, codesOfTile(surface, layer)![texel]!));
    return most;
  };
  return {
    faces: shape.faces,
    at,
    coverage: (tile) => {
      const codes = codesOfTile(surface, tile);
      if (!codes || layersOfTile(surface, tile).length < 2) return shape.coverage(tile);
      return Uint8Array.from(codes, (code, i) => at(tile, i, code));
    },
  };
}

function maskOf(count: number, faces: readonly number[]): Uint8Array {
  const out = new Uint8Array(count);
  for (const f of faces) out[f] = 1;
  return out;
}

/** Of each triangle of a set which one of them it is. */
function placesInOrder(mask: Uint8Array): Map<number, number> {
  const out = new Map<number, number>();
  mask.forEach((is, face) => is && out.set(face, out.size));
  return out;
}

/** A triangle's own way to the sheet as a view of it. */
const flatView = (flat: readonly number[], at: number): number[] => [
  ...flat.slice(at * NUMBERS_A_FACE, (at + 1) * NUMBERS_A_FACE),
  0,
  0,
  0,
  1,
];

const inside: Inside = { distance: 0, x: 0, y: 0 };

/** How much of a texel lies within a cut's line: 0..1, smooth over the texel. */
function partInside(
  m: readonly number[],
  outline: Cut['outline'],
  [x, y, z]: readonly [number, number, number],
  normals: Float64Array,
  face: number,
  texel: number,
): number {
  const row = (r: number): number => m[r * 4]! * x + m[r * 4 + 1]! * y + m[r * 4 + 2]! * z + m[r * 4 + 3]!;
  const depth = row(2);
  // What lies behind the eye wasn't seen.
  if (!(depth > 0)) return 0;
  const [sx, sy] = [row(0) / depth, row(1) / depth];
  insideOutline(outline, sx, sy, inside);
  // How the distance grows in space: over the picture's plane, and along the surface only.
  const g = [0, 1, 2].map(
    (k) => (inside.x * (m[k]! - sx * m[8 + k]!) + inside.y * (m[4 + k]! - sy * m[8 + k]!)) / depth,
  ) as [number, number, number];
  const n = [normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!] as const;
  const along = g[0] * n[0] + g[1] * n[1] + g[2] * n[2];
  const slope = Math.hypot(g[0] - along * n[0], g[1] - along * n[1], g[2] - along * n[2]);
  const wide = slope * texel;
  return wide > 0 ? Math.min(1, Math.max(0, 0.5 + inside.distance / wide)) : inside.distance > 0 ? 1 : 0;
}
