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
}

/**
 * The colours that a model came with as pixels of a paint layer: pictures read between their pixels at the UV that each texel's
 * place had when they were made, colours of vertices mixed over the triangle.
 *
 * @returns tiles of straight-alpha RGBA8, absent where empty
 */
export function basePaintTiles(surface: SurfaceMap, paint: BasePaint): Map<number, Uint8Array> {
  const { mesh } = surface;
  const out = new Map<number, Uint8Array>();
  const reader = new PlaceReader(surface);
  const place = { face: -1, w0: 1, w1: 0, w2: 0 };
  const rgba = new Uint8Array(4);
  const uvs = paint.pictureUvs ?? cornerUvs(mesh);
  for (const tile of filledTiles(surface)) {
    const codes = codesOfTile(surface, tile)!;
    let bytes: Uint8Array | null = null;
    for (let k = 0; k < TILE_TEXELS; k++) {
      if (codes[k]! < 0) continue;
      reader.locate(tile * TILE_TEXELS + k, place);
      const { face } = place;
      const weights = [place.w0, place.w1, place.w2] as const;
      const picture = paint.pictures[mesh.faceParts[face]!];
      if (picture) readPicture(uvs, face, weights, picture, rgba);
      else if (paint.cornerColors) mixCorners(paint.cornerColors, face, weights, rgba);
      else continue;
      if (rgba[3] === 0) continue;
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
