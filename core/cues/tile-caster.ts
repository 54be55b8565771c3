import { codesOfTile, gutterHomes, SUB, TILE_TEXELS } from '../surface';
import { EVEN, fillCalmCells, probedCells } from './calm-cells';
import type { CueSurface, Spots } from './cue-surface';
import { copyIn, openScene } from './open-scene';

/** Numbers that say where a texel's rays start: origin, axis, face normal. */
const START = 9;

/** Points that go through the kernel at a time. */
const BATCH = TILE_TEXELS;

/** Neighbouring texels turn their rays differently; 16 turns in a 4 x 4 pattern are averaged out again by `smoothCue`. */
const TURN_PATTERN = [0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5] as const;

/** Rays start this part of a texel inside of their triangle: on its very border they would lie in the neighbour's plane. */
const INSIDE_BY = 0.25;

/**
 * Rays start this many units in the last place of a triangle's largest number off it: the rounding of a point between three corners
 * comes to 3 of them, that of the triangle test to twice as much again.
 */
const LIFT_ULPS = 24;
const ULP = 2 ** -23;

/** Column and row within the sub-tile: whole tiles leave the pattern as it is. */
const turnOf = (i: number): number => TURN_PATTERN[((i >> 5) & 3) * 4 + (i & 3)]!;

/**
 * From every texel only each so manieth of its rays is cast first, others from each of its neighbours: where these tell nothing new they
 * stand for all, 4 x 4 texels together. At the least so many are cast.
 */
const PROBE_STEP = 8;
const FEWEST_PROBES = 4;

/** Where values change, but evenly, each so manieth is enough. */
const EVEN_STEP = 2;

/** With fewer rays a texel nothing is saved. */
const FEWEST = 16;

/** What the kernel takes the mean of; see `castPoints`. */
export const WHAT = { open: 0, seen: 1, depth: 2, value: 3 } as const;

/** How rays are cast from each texel. */
export interface Casting {
  readonly what: keyof typeof WHAT;
  readonly rays: number;
  /** So many directions around +z, xyz each. */
  readonly directions: (count: number) => Float32Array;
  /** How far rays go, model units. */
  readonly tmax: number;
  /** Writes origin, axis and face normal of a texel, 9 numbers. */
  readonly start: (spots: Spots, texel: number, tile: number, out: Float32Array, at: number) => void;
  /** For `value`: 0..1 of the triangle that a ray meets first, and where it meets none. */
  readonly value?: (face: number) => number;
  readonly miss?: number;
}

/** Casts rays tile by tile. */
export interface TileCaster {
  /**
   * @param coarse one value for each 4 x 4 texels, with a quarter of the rays: a first look
   * @returns 0..65535 a texel in tile order, 0 where nothing lies
   */
  tile(tile: number, coarse: boolean): Uint16Array;
}

/** Cosine-weighted rays over the smooth normal. What would go into the texel's own flat triangle is mirrored out of it. */
export function overNormal(ground: CueSurface): Casting['start'] {
  const inset = insetStart(ground);
  return (spots, i, tile, out, o) => {
    inset(spots, i, tile, out, o, 1);
    writeNormal(spots, i, out, o + 3);
  };
}

/** The same into the solid. */
export function underNormal(ground: CueSurface): Casting['start'] {
  const inset = insetStart(ground);
  return (spots, i, tile, out, o) => {
    inset(spots, i, tile, out, o, -1);
    writeNormal(spots, i, out, o + 3);
    for (let k = 3; k < 9; k++) out[o + k] = -out[o + k]!;
  };
}

/** Makes ready to cast rays from a ground's texels. */
export function createTileCaster(ground: CueSurface, how: Casting): TileCaster {
  const { map } = ground;
  const scene = openScene(
    ground.scene(),
    BATCH * (36 + 1 + 2) +
      (how.value ? ground.scene().faces.length * 4 : 0) +
      how.rays * 12 * 2 +
      2048 +
      1024,
  );
  const { arena } = scene;
  const values = how.value ? copyIn(arena, valuesOfLanes(ground, how.value)).byteOffset : 0;
  const fine = copyIn(arena, how.directions(how.rays));
  const rough = copyIn(arena, how.directions(Math.min(how.rays, Math.max(4, Math.round(how.rays / 4)))));
  const probeStep = how.rays >= FEWEST ? Math.min(PROBE_STEP, Math.floor(how.rays / FEWEST_PROBES)) : 0;
  const circle = arena.f32(512);
  for (let i = 0; i < 256; i++) {
    circle[i * 2] = Math.cos((i / 256) * 2 * Math.PI);
    circle[i * 2 + 1] = Math.sin((i / 256) * 2 * Math.PI);
  }
  const points = arena.f32(BATCH * START);
  /** Where the rays of a tile's texels start, by texel. */
  const starts = new Float32Array(TILE_TEXELS * START);
  const turns = arena.u8(BATCH);
  const results = arena.u16(BATCH);
  const homes = new Int32Array(TILE_TEXELS);

  /** @param step only each so manieth ray, a texel's neighbours taking those that it leaves out */
  const cast = (texels: readonly number[], dirs: Float32Array, step = 1): void => {
    for (let k = 0; k < texels.length; k++) {
      const from = texels[k]! * START;
      for (let c = 0; c < START; c++) points[k * START + c] = starts[from + c]!;
      turns[k] = turnOf(texels[k]!) * 16;
    }
    arena.run.castPoints(
      scene.nodes,
      scene.packets,
      points.byteOffset,
      turns.byteOffset,
      texels.length,
      dirs.byteOffset,
      dirs.length / 3,
      step,
      circle.byteOffset,
      how.tmax,
      WHAT[how.what],
      values,
      how.miss ?? 0,
      results.byteOffset,
    );
  };

  const probes = new Uint16Array(TILE_TEXELS);
  const means = new Uint16Array((TILE_TEXELS / 16) | 0);

  const startAll = (spots: Spots, tile: number, texels: readonly number[]): void => {
    for (const i of texels) how.start(spots, i, tile, starts, i * START);
  };

  /** Fills what is calm from a few rays of each texel. @returns what became of each; see `fillCalmCells` */
  const calm = (
    spots: Spots,
    codes: Int32Array,
    texels: readonly number[],
    own: (texel: number) => boolean,
    out: Uint16Array,
  ): Uint8Array => {
    cast(texels, fine, probeStep);
    texels.forEach((t, k) => (probes[t] = results[k]!));
    const isThere = (i: number): boolean => spots.face[i]! >= 0 && own(i);
    const cells = probedCells(codes, map.islandOfFace, isThere, probes, how.rays / probeStep, means);
    return fillCalmCells(cells, means, out);
  };

  return {
    tile(tile, coarse) {
      const out = new Uint16Array(TILE_TEXELS);
      const codes = codesOfTile(map, tile);
      const spots = ground.spots(tile);
      if (!codes || !spots) return out;
      if (coarse) {
        const cells = coarseCells(spots.face);
        const firsts = cells.map((c) => c.first);
        startAll(spots, tile, firsts);
        cast(firsts, rough);
        cells.forEach((c, k) => {
          for (const t of c.texels) out[t] = results[k]!;
        });
        return out;
      }
      // Gutter shows what is measured just inside of its border.
      gutterHomes(map, tile, homes);
      const own = (i: number): boolean => homes[i]! < 0 || Math.floor(homes[i]! / TILE_TEXELS) !== tile;
      const texels: number[] = [];
      for (let i = 0; i < TILE_TEXELS; i++) if (spots.face[i]! >= 0 && own(i)) texels.push(i);
      startAll(spots, tile, texels);
      const filled = probeStep > 1 && calm(spots, codes, texels, own, out);
      const fill = (list: readonly number[], step: number): void => {
        cast(list, fine, step);
        list.forEach((t, k) => (out[t] = results[k]!));
      };
      if (filled) {
        fill(
          texels.filter((i) => filled[i] === 0),
          1,
        );
        fill(
          texels.filter((i) => filled[i] === EVEN),
          EVEN_STEP,
        );
      } else fill(texels, 1);
      for (let i = 0; i < TILE_TEXELS; i++) if (!own(i)) out[i] = out[homes[i]! % TILE_TEXELS]!;
      return out;
    },
  };
}

/** What triangles are worth, in the order in which rays tell of them. */
const valuesOfLanes = (ground: CueSurface, value: (face: number) => number): Float32Array =>
  Float32Array.from(ground.scene().faces, (face) => (face < 0 ? 0 : value(face)));

/** The filled texels of a tile by blocks of 4 x 4. */
function coarseCells(face: Int32Array): { first: number; texels: number[] }[] {
  const cells = new Map<number, number[]>();
  for (let i = 0; i < TILE_TEXELS; i++) {
    if (face[i]! < 0) continue;
    const cell = (i >> 10) * 64 + ((i >> 7) & 7) * 8 + ((i & (SUB - 1)) >> 2);
    const list = cells.get(cell);
    if (list) list.push(i);
    else cells.set(cell, [i]);
  }
  return [...cells.values()].map((texels) => ({ first: texels[texels.length >> 1]!, texels }));
}

/** The smooth normal of a texel, unit. */
function writeNormal({ places: { nx, ny, nz } }: Spots, i: number, out: Float32Array, o: number): void {
  const l = length(nx[i]!, ny[i]!, nz[i]!) || 1;
  out[o] = nx[i]! / l;
  out[o + 1] = ny[i]! / l;
  out[o + 2] = nz[i]! / l;
}

/** `Math.hypot` takes ten times as long, for numbers near the limits of doubles. */
const length = (x: number, y: number, z: number): number => Math.sqrt(x * x + y * y + z * z);

/** What the starts of all texels of a triangle have in common. */
interface Inset {
  face: number;
  tile: number;
  /** The least weights of its corners. */
  readonly least: Float64Array;
  /** How far off it rays start. */
  lift: number;
}

/**
 * Starts rays just off a texel's triangle, inside of its borders; writes origin and face normal.
 *
 * @returns a function whose last argument is 1 for the side that the normals show, -1 for the other
 */
export function insetStart(
  ground: CueSurface,
): (spots: Spots, texel: number, tile: number, out: Float32Array, at: number, side: 1 | -1) => void {
  const { mesh, faceNormals } = ground;
  const { positions: p, indices } = mesh;
  const inset: Inset = { face: -1, tile: -1, least: new Float64Array(3), lift: 0 };
  return (spots, i, tile, out, o, side) => {
    const face = spots.face[i]!;
    if (inset.face !== face || inset.tile !== tile) insetOf(ground, face, tile, inset);
    const f = face * 3;
    const a = indices[f]! * 3;
    const b = indices[f + 1]! * 3;
    const c = indices[f + 2]! * 3;
    const { least } = inset;
    const { weights: w } = spots;
    const wa = Math.max(w[i * 3]!, least[0]!);
    const wb = Math.max(w[i * 3 + 1]!, least[1]!);
    const wc = Math.max(w[i * 3 + 2]!, least[2]!);
    const sum = wa + wb + wc;
    let fx = faceNormals[f]!;
    let fy = faceNormals[f + 1]!;
    let fz = faceNormals[f + 2]!;
    const { nx, ny, nz } = spots.places;
    if (fx === 0 && fy === 0 && fz === 0) {
      const l = length(nx[i]!, ny[i]!, nz[i]!) || 1;
      fx = nx[i]! / l;
      fy = ny[i]! / l;
      fz = nz[i]! / l;
    }
    // A face wound the other way than its normals is lifted to the side that its normals show.
    const turned = fx * nx[i]! + fy * ny[i]! + fz * nz[i]! < 0 ? -1 : 1;
    const lift = side * turned * inset.lift;
    out[o] = (p[a]! * wa + p[b]! * wb + p[c]! * wc) / sum + fx * lift;
    out[o + 1] = (p[a + 1]! * wa + p[b + 1]! * wb + p[c + 1]! * wc) / sum + fy * lift;
    out[o + 2] = (p[a + 2]! * wa + p[b + 2]! * wb + p[c + 2]! * wc) / sum + fz * lift;
    out[o + 6] = fx * turned;
    out[o + 7] = fy * turned;
    out[o + 8] = fz * turned;
  };
}

function insetOf(ground: CueSurface, face: number, tile: number, out: Inset): void {
  const { positions: p, indices } = ground.mesh;
  const corners = [0, 1, 2].map((k) => indices[face * 3 + k]! * 3) as [number, number, number];
  const [a, b, c] = corners;
  // Lengths of the sides across from each corner, and twice the area.
  const sides = [
    length(p[b]! - p[c]!, p[b + 1]! - p[c + 1]!, p[b + 2]! - p[c + 2]!),
    length(p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!),
    length(p[a]! - p[b]!, p[a + 1]! - p[b + 1]!, p[a + 2]! - p[b + 2]!),
  ] as const;
  const half = (sides[0] + sides[1] + sides[2]) / 2;
  // Heron's formula; rounding may make a sliver's negative.
  const area2 = 2 * Math.sqrt(Math.max(0, half * (half - sides[0]) * (half - sides[1]) * (half - sides[2])));
  const inside = INSIDE_BY * ground.texelLength(face, tile);
  let largest = Math.max(...sides);
  for (const v of corners) {
    for (let k = 0; k < 3; k++) largest = Math.max(largest, Math.abs(p[v + k]!));
  }
  out.face = face;
  out.tile = tile;
  // A weight times the height over its side is how far from that side the point lies.
  for (let k = 0; k < 3; k++) out.least[k] = area2 > 0 ? Math.min(1 / 3, (inside * sides[k]!) / area2) : 0;
  out.lift = LIFT_ULPS * ULP * largest;
}
