import type { UvMesh } from '../mesh';
import { SUB_TEXELS } from './tiling';

/** Texels around every island that carry the position of the island's nearest border point. */
export const GUTTER = 8;

/** Value of `part` where nothing lies. */
export const NO_PART = 0xffff;

/** A coordinate no dab can reach; it stands where nothing lies. */
export const NOWHERE = 1e18;

/** Every texel's place on the model, in the sheet's tiled order. Made once for a mesh and a size. */
export interface SurfaceMap {
  readonly size: number;
  /** Position, model units; NOWHERE outside islands and gutter. */
  readonly px: Float32Array;
  readonly py: Float32Array;
  readonly pz: Float32Array;
  /** Unit normal, each axis times 32767. */
  readonly nx: Int16Array;
  readonly ny: Int16Array;
  readonly nz: Int16Array;
  /** Triangle, -1 where nothing lies. */
  readonly face: Int32Array;
  /** Part, NO_PART where nothing lies. */
  readonly part: Uint16Array;
  /** 1 where the texel's centre lies in a triangle, 0 in the gutter and outside. */
  readonly covered: Uint8Array;
  /** Box in space of each sub-tile: min xyz, max xyz; inverted where it is empty. */
  readonly subBounds: Float32Array;
  /** Island number a triangle. */
  readonly islandOfFace: Uint32Array;
  readonly islands: number;
  readonly coveredTexels: number;
  /** Texels whose centre lies in more than one triangle. */
  readonly overlappedTexels: number;
  /** Mean length of a texel's side on the model, model units. */
  readonly texelLength: number;
}

export const islandAt = (map: SurfaceMap, texel: number): number => {
  const face = map.face[texel]!;
  return face < 0 ? -1 : map.islandOfFace[face]!;
};

/** The space each sub-tile takes up, so that a dab looks only at those it can touch. */
export function subTileBounds(px: Float32Array, py: Float32Array, pz: Float32Array): Float32Array {
  const subs = px.length / SUB_TEXELS;
  const out = new Float32Array(subs * 6);
  const axes = [px, py, pz] as const;
  for (let s = 0; s < subs; s++) {
    for (let axis = 0; axis < 3; axis++) {
      let min = NOWHERE;
      let max = -NOWHERE;
      const values = axes[axis]!;
      for (let i = s * SUB_TEXELS; i < (s + 1) * SUB_TEXELS; i++) {
        const x = values[i]!;
        if (x >= NOWHERE) continue;
        if (x < min) min = x;
        if (x > max) max = x;
      }
      out[s * 6 + axis] = min;
      out[s * 6 + 3 + axis] = max;
    }
  }
  return out;
}

/** Figures of a UV layout that need no sheet. */
export interface UvFigures {
  /** Triangles that reach outside 0..1. */
  readonly outOfRange: number;
  /** Triangles that lie face down (clockwise) in the layout. */
  readonly flipped: number;
}

export function uvFigures(mesh: UvMesh): UvFigures {
  // UVs are 32-bit floats: an error of 1e-6 is a few units in the last place at 1.
  const EPSILON = 1e-6;
  let outOfRange = 0;
  let flipped = 0;
  for (let c = 0; c < mesh.indices.length; c += 3) {
    const [a, b, d] = [0, 1, 2].map((k) => {
      const v = mesh.indices[c + k]! * 2;
      return [mesh.uvs[v]!, mesh.uvs[v + 1]!] as const;
    }) as [readonly [number, number], readonly [number, number], readonly [number, number]];
    if ([...a, ...b, ...d].some((x) => x < -EPSILON || x > 1 + EPSILON)) outOfRange++;
    if ((b[0] - a[0]) * (d[1] - a[1]) - (b[1] - a[1]) * (d[0] - a[0]) < 0) flipped++;
  }
  return { outOfRange, flipped };
}
