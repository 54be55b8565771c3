import { WasmArena } from '../kernels';
import { cosineDirections } from '../math';
import { faceGeometry, type UvMesh } from '../mesh';
import { codesOfTile, PlaceReader, SUB, TILE_TEXELS, type Places, type SurfaceMap } from '../surface';
import { NODE_FLOATS, type RayScene } from './ray-scene';

/** Rays start this far off the surface, in parts of the model's diagonal: 30 times the rounding of 32-bit positions. */
const LIFT = 2e-5;

/** Points that go through the kernel at a time. */
const BATCH = 4096;

/** Neighbouring texels turn their rays differently; 16 turns in a 4 x 4 pattern are averaged out again by `smoothCue`. */
const TURN_PATTERN = [0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5] as const;

/** How rays are cast. */
export interface OcclusionRays {
  /** Rays a texel. */
  readonly rays: number;
  /** How far a ray looks, in parts of the model's diagonal; null looks without end. */
  readonly reach: number | null;
}

export interface OcclusionCaster {
  /**
   * Open part of the sky of every texel of a tile, times 65535; 0 where nothing lies.
   *
   * @param coarse one value for each 4 x 4 texels, with a quarter of the rays: a first look
   * @returns one value a texel in tile order
   */
  tile(tile: number, coarse: boolean): Uint16Array;
}

/**
 * Cosine-weighted occlusion by ray casting. What a smooth normal's hemisphere would send into its own flat triangle is
 * mirrored out of it, so that low-polygon shapes don't darken themselves.
 */
export function createOcclusionCaster(
  mesh: UvMesh,
  scene: RayScene,
  map: SurfaceMap,
  spec: OcclusionRays,
): OcclusionCaster {
  const arena = new WasmArena(
    scene.nodes.byteLength + scene.packets.byteLength + BATCH * (36 + 1 + 2) + spec.rays * 24 + 2048 + 1024,
  );
  const copyIn = (data: Float32Array): Float32Array => {
    const to = arena.f32(data.length);
    // As integers: child numbers must not pass through a float.
    new Int32Array(to.buffer, to.byteOffset, to.length).set(
      new Int32Array(data.buffer, data.byteOffset, data.length),
    );
    return to;
  };
  const nodes = copyIn(scene.nodes.length ? scene.nodes : new Float32Array(NODE_FLOATS));
  const packets = copyIn(scene.packets);
  const fineRays = spec.rays;
  const coarseRays = Math.max(4, Math.round(spec.rays / 4));
  const fine = copyIn(cosineDirections(fineRays));
  const rough = copyIn(cosineDirections(Math.min(coarseRays, fineRays)));
  const circle = arena.f32(512);
  for (let i = 0; i < 256; i++) {
    circle[i * 2] = Math.cos((i / 256) * 2 * Math.PI);
    circle[i * 2 + 1] = Math.sin((i / 256) * 2 * Math.PI);
  }
  const points = arena.f32(BATCH * 9);
  const turns = arena.u8(BATCH);
  const results = arena.u16(BATCH);
  const tmax = spec.reach === null ? scene.diagonal * 2 : spec.reach * scene.diagonal;
  const lift = scene.diagonal * LIFT;

  const reader = new PlaceReader(map);
  const faceNormals = faceGeometry(mesh).normals;

  /** @param texels by their numbers in the tile */
  const cast = (places: Places, codes: Int32Array, texels: readonly number[], dirs: Float32Array): void => {
    for (let k = 0; k < texels.length; k++) {
      const i = texels[k]!;
      writePoint(faceNormals, places, i, codes[i]! >> 2, lift, points, k * 9);
      // Column and row within the sub-tile: whole tiles leave the pattern as it is.
      turns[k] = TURN_PATTERN[((i >> 5) & 3) * 4 + (i & 3)]! * 16;
    }
    arena.run.openness(
      nodes.byteOffset,
      packets.byteOffset,
      points.byteOffset,
      turns.byteOffset,
      texels.length,
      dirs.byteOffset,
      dirs.length / 3,
      circle.byteOffset,
      tmax,
      results.byteOffset,
    );
  };

  return {
    tile(tile, coarse) {
      const out = new Uint16Array(TILE_TEXELS);
      const codes = codesOfTile(map, tile);
      const places = reader.tile(tile);
      if (!codes || !places) return out;
      if (!coarse) {
        const texels: number[] = [];
        for (let i = 0; i < TILE_TEXELS; i++) if (codes[i]! >= 0) texels.push(i);
        cast(places, codes, texels, fine);
        texels.forEach((t, k) => (out[t] = results[k]!));
        return out;
      }
      const cells = coarseCells(codes);
      cast(
        places,
        codes,
        cells.map((c) => c.first),
        rough,
      );
      cells.forEach((c, k) => {
        for (const t of c.texels) out[t] = results[k]!;
      });
      return out;
    },
  };
}

/** The filled texels of a tile by blocks of 4 x 4. */
function coarseCells(codes: Int32Array): { first: number; texels: number[] }[] {
  const cells = new Map<number, number[]>();
  for (let i = 0; i < TILE_TEXELS; i++) {
    if (codes[i]! < 0) continue;
    const cell = (i >> 10) * 64 + ((i >> 7) & 7) * 8 + ((i & (SUB - 1)) >> 2);
    const list = cells.get(cell);
    if (list) list.push(i);
    else cells.set(cell, [i]);
  }
  return [...cells.values()].map((texels) => ({ first: texels[texels.length >> 1]!, texels }));
}

/** Origin, normal and face normal of texel i of a tile. */
function writePoint(
  faceNormals: Float64Array,
  places: Places,
  i: number,
  face: number,
  lift: number,
  out: Float32Array,
  o: number,
): void {
  let fx = faceNormals[face * 3]!;
  let fy = faceNormals[face * 3 + 1]!;
  let fz = faceNormals[face * 3 + 2]!;
  let nx = places.nx[i]! / 32767;
  let ny = places.ny[i]! / 32767;
  let nz = places.nz[i]! / 32767;
  const nl = Math.hypot(nx, ny, nz) || 1;
  nx /= nl;
  ny /= nl;
  nz /= nl;
  if (fx === 0 && fy === 0 && fz === 0) {
    fx = nx;
    fy = ny;
    fz = nz;
  }
  // A face wound the other way than its normals is lifted to the side that its normals show.
  if (fx * nx + fy * ny + fz * nz < 0) {
    fx = -fx;
    fy = -fy;
    fz = -fz;
  }
  out[o] = places.px[i]! + fx * lift;
  out[o + 1] = places.py[i]! + fy * lift;
  out[o + 2] = places.pz[i]! + fz * lift;
  out[o + 3] = nx;
  out[o + 4] = ny;
  out[o + 5] = nz;
  out[o + 6] = fx;
  out[o + 7] = fy;
  out[o + 8] = fz;
}
