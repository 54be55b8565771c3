import { CoreError } from '../errors';
import { type Bounds, diagonalOf, faceGeometry, subjectBounds, subjectOf, type Mesh } from '../mesh';
import {
  codesOfTile,
  formTiles,
  NOWHERE,
  PlaceReader,
  placesFor,
  sheetOfTile,
  texelLengths,
  TILE_TEXELS,
  type Barycentric,
  type Places,
  type SurfaceMap,
} from '../surface';
import { openScene, type OpenScene } from './open-scene';
import { buildRayScene, type RayScene } from './ray-scene';

/** Where the texels of a tile lie on the model that is measured. */
export interface Spots {
  readonly places: Places;
  /** Triangle of that model a texel; -1 where nothing lies, and where the denser model wasn't met. */
  readonly face: Int32Array;
  /** Weights of its three corners, one texel after the other. */
  readonly weights: Float32Array;
}

/** A colour of each triangle, three numbers each, under a name of all of them. */
export interface GroundColors {
  readonly name: string;
  readonly rgb: Uint8Array;
}

/** What cues are measured on: the texels of a surface, each with its place on a model. */
export interface CueSurface {
  readonly map: SurfaceMap;
  /** The model whose form is measured: the surface's own, or a denser one of the same shape. */
  readonly mesh: Mesh;
  /** The box of the surface's own model. Lengths of cues are parts of its diagonal. */
  readonly bounds: Bounds;
  readonly diagonal: number;
  /** Unit normals of `mesh`'s triangles; 0 where one has no area. */
  readonly faceNormals: Float64Array;
  /** Colours of the model's triangles, where they count. */
  readonly colors?: GroundColors | null;
  /** The same texels in the poses over which a cue is measured; left out: as they are here. */
  readonly poses?: readonly CueSurface[];
  /** Made when it is asked for first. */
  scene(): RayScene;
  /** To be read only, and only until the next is asked for. Null where nothing lies. */
  spots(tile: number): Spots | null;
  /** Length of a texel's side where a triangle of `mesh` lies in a tile, model units. */
  texelLength(face: number, tile: number): number;
}

/** The surface's own model as the ground. */
export function ownCueSurface(map: SurfaceMap, colors: GroundColors | null = null): CueSurface {
  const reader = new PlaceReader(map);
  const at: Barycentric = { face: -1, w0: 0, w1: 0, w2: 0 };
  const face = new Int32Array(TILE_TEXELS);
  const weights = new Float32Array(TILE_TEXELS * 3);
  let held = -1;
  return {
    ...measured(map, subjectOf(map.mesh)),
    colors,
    texelLength: texelLengths(map),
    spots(tile) {
      const places = reader.tile(tile);
      if (!places) return null;
      if (held !== tile) {
        for (let i = 0; i < TILE_TEXELS; i++) {
          face[i] = reader.locate(tile * TILE_TEXELS + i, at) ? at.face : -1;
          weights[i * 3] = at.w0;
          weights[i * 3 + 1] = at.w1;
          weights[i * 3 + 2] = at.w2;
        }
        held = tile;
      }
      return { places, face, weights };
    },
  };
}

/** How a denser model was met. */
export interface Met {
  /** Of the covered texels, those that met nothing within the distance. */
  readonly missed: number;
  readonly covered: number;
}

/** A ground that knows how it was met. */
export interface DenseCueSurface extends CueSurface {
  met(): Met;
}

/** What of a denser model the texels of a tile stand for: its triangle, and how far off along the normal. */
interface Hits {
  readonly face: Int32Array;
  readonly away: Float32Array;
}

/**
 * A denser model of the same shape as the ground: each texel stands for the nearest place of it along its normal, outward or inward.
 *
 * @param distance how far it may lie off, model units
 */
export function denseCueSurface(map: SurfaceMap, dense: Mesh, distance: number): DenseCueSurface {
  const reader = new PlaceReader(map);
  const ground = measured(map, dense);
  const rays = openScene(ground.scene(), 0);
  const kept = new Map<number, Hits>();
  const hitsOf = (tile: number, own: Places): Hits => {
    const known = kept.get(tile);
    if (known) return known;
    const face = new Int32Array(TILE_TEXELS).fill(-1);
    const away = new Float32Array(TILE_TEXELS);
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (own.px[i]! >= NOWHERE) continue;
      const n = [own.nx[i]! / 32767, own.ny[i]! / 32767, own.nz[i]! / 32767] as const;
      const found = nearestAlong(rays, ground.faceNormals, [own.px[i]!, own.py[i]!, own.pz[i]!], n, distance);
      if (!found) continue;
      face[i] = found.face;
      away[i] = found.away;
    }
    const hits = { face, away };
    kept.set(tile, hits);
    return hits;
  };
  let held: { readonly tile: number; readonly spots: Spots } | null = null;
  const spots = (tile: number): Spots | null => {
    if (held?.tile === tile) return held.spots;
    const own = reader.tile(tile);
    if (!own) return null;
    held = { tile, spots: spotsOn(dense, own, hitsOf(tile, own)) };
    return held.spots;
  };
  return { ...ground, spots, met: () => metOf(map, spots) };
}

/** Where texels come to lie that were moved along their normals onto a denser model. */
function spotsOn(dense: Mesh, own: Places, { face, away }: Hits): Spots {
  const places = placesFor(TILE_TEXELS);
  const weights = new Float32Array(TILE_TEXELS * 3);
  const { px, py, pz, nx, ny, nz } = places;
  const { indices, normals } = dense;
  for (let i = 0; i < TILE_TEXELS; i++) {
    px[i] = own.px[i]!;
    py[i] = own.py[i]!;
    pz[i] = own.pz[i]!;
    if (own.px[i]! >= NOWHERE) continue;
    nx[i] = own.nx[i]!;
    ny[i] = own.ny[i]!;
    nz[i] = own.nz[i]!;
    const f = face[i]!;
    if (f < 0) continue;
    px[i]! += (own.nx[i]! / 32767) * away[i]!;
    py[i]! += (own.ny[i]! / 32767) * away[i]!;
    pz[i]! += (own.nz[i]! / 32767) * away[i]!;
    const w = weightsAt(dense, f, px[i]!, py[i]!, pz[i]!);
    weights.set(w, i * 3);
    const c = [0, 1, 2].map((k) => indices[f * 3 + k]! * 3) as [number, number, number];
    const smooth = [0, 1, 2].map((axis) => c.reduce((sum, v, k) => sum + normals[v + axis]! * w[k]!, 0));
    const l = Math.hypot(...smooth);
    if (!(l > 0)) continue;
    nx[i] = Math.round((smooth[0]! / l) * 32767);
    ny[i] = Math.round((smooth[1]! / l) * 32767);
    nz[i] = Math.round((smooth[2]! / l) * 32767);
  }
  return { places, face, weights };
}

function metOf(map: SurfaceMap, spots: CueSurface['spots']): Met {
  let missed = 0;
  let covered = 0;
  for (const tile of formTiles(map)) {
    const codes = codesOfTile(map, tile)!;
    const there = spots(tile)!;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (codes[i]! < 0 || (codes[i]! & 3) !== 3) continue;
      covered++;
      if (there.face[i]! < 0) missed++;
    }
  }
  return { missed, covered };
}

/** @throws CoreError `bad-argument` if nothing of a denser model was met: it is of another shape, place or size */
export function requireMet({ missed, covered }: Met): void {
  if (missed < covered) return;
  throw new CoreError(
    'bad-argument',
    'Nothing of the denser model lies near this one. It must have the same shape, place and size; move it in the program it comes from, or look farther.',
  );
}

function measured(map: SurfaceMap, mesh: Mesh): Omit<CueSurface, 'spots'> {
  const bounds = subjectBounds(map.mesh);
  let scene: RayScene | null = null;
  return {
    map,
    mesh,
    bounds,
    diagonal: diagonalOf(bounds),
    faceNormals: faceGeometry(mesh).normals,
    scene: () => (scene ??= buildRayScene(mesh.positions, facingOut(mesh))),
    texelLength: (_face, tile) => map.sheets[sheetOfTile(map.sheets, tile)]!.texelLength,
  };
}

/** The triangles, each wound to the side that its normals show: rays know by it where they leave a solid. */
function facingOut({ positions: p, normals: n, indices }: Mesh): Uint32Array {
  const { normals } = faceGeometry({ positions: p, indices });
  const out = indices.slice();
  for (let c = 0; c < indices.length; c += 3) {
    let side = 0;
    for (let k = 0; k < 3; k++) {
      const v = indices[c + k]! * 3;
      side += n[v]! * normals[c]! + n[v + 1]! * normals[c + 1]! + n[v + 2]! * normals[c + 2]!;
    }
    if (side < 0) [out[c + 1], out[c + 2]] = [out[c + 2]!, out[c + 1]!];
  }
  return out;
}

type Triple = readonly [number, number, number];

/** The nearest triangle along a line, both ways, that looks to the same side. @param unit of the line, length 1 */
function nearestAlong(
  rays: OpenScene,
  faceNormals: Float64Array,
  [x, y, z]: Triple,
  [dx, dy, dz]: Triple,
  distance: number,
): { readonly face: number; readonly away: number } | null {
  let best: { face: number; away: number } | null = null;
  for (const way of [1, -1]) {
    // From a little behind, so that a place that lies exactly here is met too.
    const back = distance * 1e-3;
    const [ux, uy, uz] = [dx * way, dy * way, dz * way];
    const hit = rays.first(x - ux * back, y - uy * back, z - uz * back, ux, uy, uz, distance + back);
    if (hit.face < 0) continue;
    const f = hit.face * 3;
    const cos = faceNormals[f]! * dx + faceNormals[f + 1]! * dy + faceNormals[f + 2]! * dz;
    const away = (hit.t - back) * way;
    if (cos > 0 && (!best || Math.abs(away) < Math.abs(best.away))) best = { face: hit.face, away };
  }
  return best;
}

/** Weights of a triangle's corners at a point in its plane. */
function weightsAt({ positions: p, indices }: Mesh, face: number, x: number, y: number, z: number): Triple {
  const [a, b, c] = [0, 1, 2].map((k) => indices[face * 3 + k]! * 3) as [number, number, number];
  const from = (v: number): Triple => [p[v]! - p[a]!, p[v + 1]! - p[a + 1]!, p[v + 2]! - p[a + 2]!];
  const dot = (u: Triple, v: Triple): number => u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
  const [e, f, q] = [from(b), from(c), [x - p[a]!, y - p[a + 1]!, z - p[a + 2]!] as Triple];
  const [ee, ef, ff, qe, qf] = [dot(e, e), dot(e, f), dot(f, f), dot(q, e), dot(q, f)];
  const whole = ee * ff - ef * ef;
  if (!(whole > 0)) return [1, 0, 0];
  const v = (ff * qe - ef * qf) / whole;
  const w = (ee * qf - ef * qe) / whole;
  return [1 - v - w, v, w];
}
