import { linearToSrgb, srgbToLinear } from '../color';
import type { Vec3 } from '../math';
import { repeated, samplePicture, type Picture } from '../picture';
import { codesOfTile, filledTiles, PlaceReader, TILE_BYTES, TILE_TEXELS, type SurfaceMap } from '../surface';
import { cornerUvs } from '../unwrap';

export interface BasePaint {
  /** Decoded base-colour picture of each part, null where it has none. First row is v = 1. */
  readonly pictures: readonly (Picture | null)[];
  /** The UVs that the pictures were made for, uv a corner; null if they are the mesh's own. */
  readonly pictureUvs: Float32Array | null;
  /** RGBA a corner; null where there are none. */
  readonly cornerColors: Uint8Array | null;
  /** Linear red, green and blue by which the picture of each part is multiplied; null: by 1. Left out: none is. */
  readonly factors?: readonly (Vec3 | null)[];
}

/**
 * The colours that a model came with as pixels of a paint layer: pictures read between their pixels at the UV that each texel's
 * place had when they were made, colours of vertices mixed over the triangle.
 *
 * @returns tiles of straight-alpha RGBA8, absent where empty
 */
export function basePaintTiles(surface: SurfaceMap, paint: BasePaint): Map<number, Uint8Array> {
  const { faceParts } = surface.mesh;
  const uvs = paint.pictureUvs ?? cornerUvs(surface.mesh);
  const tables = paint.factors?.map((factor) => factor && factor.map(multipliedBy)) ?? [];
  return tilesOf(surface, (face, weights, rgba) => {
    const part = faceParts[face]!;
    const picture = paint.pictures[part];
    if (picture) readPicture(uvs, face, weights, picture, rgba);
    else if (paint.cornerColors) mixCorners(paint.cornerColors, face, weights, rgba);
    else return false;
    const table = picture && tables[part];
    if (table) for (let c = 0; c < 3; c++) rgba[c] = table[c]![rgba[c]!]!;
    return rgba[3]! > 0;
  });
}

/**
 * Colours of vertices where they lie over a picture, to be multiplied onto it; white does nothing there.
 *
 * @returns as `basePaintTiles`; empty where every vertex over a picture is white
 */
export function vertexColorTiles(
  surface: SurfaceMap,
  { pictures, cornerColors }: Pick<BasePaint, 'pictures' | 'cornerColors'>,
): Map<number, Uint8Array> {
  const { faceParts } = surface.mesh;
  if (!cornerColors) return new Map();
  return tilesOf(surface, (face, weights, rgba) => {
    if (!pictures[faceParts[face]!]) return false;
    mixCorners(cornerColors, face, weights, rgba);
    rgba[3] = 255;
    return rgba[0]! < 255 || rgba[1]! < 255 || rgba[2]! < 255;
  });
}

/** Encoded values multiplied as linear ones. */
const multipliedBy = (factor: number): Uint8Array =>
  Uint8Array.from({ length: 256 }, (_, x) => Math.round(255 * linearToSrgb(srgbToLinear(x / 255) * factor)));

/** @param colorAt writes the colour of a place; false where it is bare */
function tilesOf(
  surface: SurfaceMap,
  colorAt: (face: number, weights: Weights, out: Uint8Array) => boolean,
): Map<number, Uint8Array> {
  const out = new Map<number, Uint8Array>();
  const reader = new PlaceReader(surface);
  const place = { face: -1, w0: 1, w1: 0, w2: 0 };
  const rgba = new Uint8Array(4);
  for (const tile of filledTiles(surface)) {
    const codes = codesOfTile(surface, tile)!;
    let bytes: Uint8Array | null = null;
    for (let k = 0; k < TILE_TEXELS; k++) {
      if (codes[k]! < 0) continue;
      reader.locate(tile * TILE_TEXELS + k, place);
      if (!colorAt(place.face, [place.w0, place.w1, place.w2], rgba)) continue;
      bytes ??= new Uint8Array(TILE_BYTES);
      bytes.set(rgba, k * 4);
    }
    if (bytes) out.set(tile, bytes);
  }
  return out;
}

type Weights = readonly [number, number, number];

function mixCorners(colors: Uint8Array, face: number, weights: Weights, out: Uint8Array): void {
  for (let channel = 0; channel < 4; channel++) {
    let sum = 0;
    for (let k = 0; k < 3; k++)
      sum += colors[(face * 3 + k) * 4 + channel]! * Math.min(1, Math.max(0, weights[k]!));
    out[channel] = Math.min(255, Math.round(sum));
  }
}

/** Bilinear, weighted by alpha; the picture repeats, as textures do. */
function readPicture(
  uvs: Float32Array,
  face: number,
  weights: Weights,
  picture: Picture,
  out: Uint8Array,
): void {
  let u = 0;
  let v = 0;
  for (let k = 0; k < 3; k++) {
    u += uvs[(face * 3 + k) * 2]! * weights[k]!;
    v += uvs[(face * 3 + k) * 2 + 1]! * weights[k]!;
  }
  out.fill(0);
  samplePicture(picture, u * picture.width, (1 - v) * picture.height, repeated, out, 0);
}
