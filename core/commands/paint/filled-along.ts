import TinyQueue from 'tinyqueue';
import { CoreError } from '../../errors';
import { topologyOf, type UvMesh } from '../../mesh';
import type { TileState } from '../../pixels';
import {
  codesOfTile,
  filledTiles,
  PlaceReader,
  TILE_BYTES,
  TILE_TEXELS,
  type SurfaceMap,
} from '../../surface';

/** A texel counts as painted from here on, 0..255. */
const PAINTED = 128;

/** Guesses are evened out over neighbouring triangles in so many rounds. */
const EVENED = 6;

/**
 * Colours for what a plane leaves bare, carried along the surface: every triangle has the mean of what is painted on it, or of the
 * nearest painted one of its part (E. Dijkstra, 1959, from middle to middle over shared edges), evened out and laid smoothly over corners.
 *
 * @param painted a tile of the plane that is taken from
 * @param plane the plane that is filled
 * @throws CoreError `bad-argument` if nothing is painted there
 */
export function filledAlong(
  surface: SurfaceMap,
  painted: (tile: number) => Uint8Array | undefined,
  plane: number,
): TileState[] {
  const { mesh } = surface;
  const known = meansOfFaces(surface, painted);
  if (!known.counts.some((n) => n > 0)) {
    throw new CoreError('bad-argument', 'Nothing is painted there that the rest could be filled from.');
  }
  const corners = cornerColors(mesh, carried(mesh, known));
  const places = new PlaceReader(surface);
  return filledTiles(surface).flatMap((tile): TileState[] => {
    const codes = codesOfTile(surface, tile)!;
    const at = places.tile(tile);
    if (!at) return [];
    const bytes = new Uint8Array(TILE_BYTES);
    let some = false;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (codes[i]! < 0) continue;
      const f = codes[i]! >> 2;
      if (Number.isNaN(corners[f * 9]!)) continue;
      const [wa, wb, wc] = weightsIn(mesh, f, at.px[i]!, at.py[i]!, at.pz[i]!);
      for (let c = 0; c < 3; c++) {
        bytes[i * 4 + c] = Math.round(
          corners[f * 9 + c]! * wa + corners[f * 9 + 3 + c]! * wb + corners[f * 9 + 6 + c]! * wc,
        );
      }
      bytes[i * 4 + 3] = 255;
      some = true;
    }
    return some ? [{ plane, tile, bytes }] : [];
  });
}

interface FaceMeans {
  /** Three numbers a triangle, 0..255; what counts 0 has none. */
  readonly colors: Float64Array;
  readonly counts: Int32Array;
}

function meansOfFaces(surface: SurfaceMap, painted: (tile: number) => Uint8Array | undefined): FaceMeans {
  const faces = surface.mesh.faceParts.length;
  const colors = new Float64Array(faces * 3);
  const counts = new Int32Array(faces);
  for (const tile of filledTiles(surface)) {
    const bytes = painted(tile);
    if (!bytes) continue;
    codesOfTile(surface, tile)!.forEach((code, i) => {
      // Gutter shows what lies inside once more.
      if (code < 0 || (code & 3) !== 3 || bytes[i * 4 + 3]! < PAINTED) return;
      const f = code >> 2;
      counts[f]!++;
      for (let c = 0; c < 3; c++) colors[f * 3 + c]! += bytes[i * 4 + c]!;
    });
  }
  counts.forEach((n, f) => {
    if (n > 0) for (let c = 0; c < 3; c++) colors[f * 3 + c]! /= n;
  });
  return { colors, counts };
}

/** Every triangle with the colour of the nearest that has one, within its part; not a number where its part has none. */
function carried(mesh: UvMesh, { colors, counts }: FaceMeans): Float64Array {
  const faces = counts.length;
  const { across } = topologyOf(mesh);
  const middles = middlesOf(mesh);
  const away = new Float64Array(faces).fill(Infinity);
  const out = new Float64Array(faces * 3).fill(NaN);
  const queue = new TinyQueue<{ readonly way: number; readonly face: number }>([], (a, b) => a.way - b.way);
  for (let f = 0; f < faces; f++) {
    if (!(counts[f]! > 0)) continue;
    away[f] = 0;
    for (let c = 0; c < 3; c++) out[f * 3 + c] = colors[f * 3 + c]!;
    queue.push({ way: 0, face: f });
  }
  for (let next = queue.pop(); next; next = queue.pop()) {
    const { way, face } = next;
    if (way > away[face]!) continue;
    for (let k = 0; k < 3; k++) {
      const other = across[face * 3 + k]! < 0 ? -1 : Math.floor(across[face * 3 + k]! / 3);
      if (other < 0 || mesh.faceParts[other] !== mesh.faceParts[face]) continue;
      const step = Math.hypot(
        middles[other * 3]! - middles[face * 3]!,
        middles[other * 3 + 1]! - middles[face * 3 + 1]!,
        middles[other * 3 + 2]! - middles[face * 3 + 2]!,
      );
      if (!(way + step < away[other]!)) continue;
      away[other] = way + step;
      for (let c = 0; c < 3; c++) out[other * 3 + c] = out[face * 3 + c]!;
      queue.push({ way: way + step, face: other });
    }
  }
  for (let round = 0; round < EVENED; round++) evenOut(mesh, across, counts, out);
  return out;
}

/** What was guessed becomes a mean of itself and its neighbours; what is known stays. */
function evenOut(mesh: UvMesh, across: Int32Array, counts: Int32Array, colors: Float64Array): void {
  const before = colors.slice();
  for (let f = 0; f < counts.length; f++) {
    if (counts[f]! > 0 || Number.isNaN(before[f * 3]!)) continue;
    let weight = 1;
    for (let k = 0; k < 3; k++) {
      const other = across[f * 3 + k]! < 0 ? -1 : Math.floor(across[f * 3 + k]! / 3);
      if (other < 0 || mesh.faceParts[other] !== mesh.faceParts[f] || Number.isNaN(before[other * 3]!))
        continue;
      weight++;
      for (let c = 0; c < 3; c++) colors[f * 3 + c]! += before[other * 3 + c]!;
    }
    for (let c = 0; c < 3; c++) colors[f * 3 + c]! /= weight;
  }
}

/** Three colours a triangle, one a corner: the mean of all triangles of the part that meet there. */
function cornerColors(mesh: UvMesh, faceColors: Float64Array): Float64Array {
  const { welded } = topologyOf(mesh);
  const { indices, faceParts, parts } = mesh;
  const sums = new Map<number, [number, number, number, number]>();
  const keyOf = (f: number, k: number): number => welded[indices[f * 3 + k]!]! * parts.length + faceParts[f]!;
  for (let f = 0; f < faceParts.length; f++) {
    if (Number.isNaN(faceColors[f * 3]!)) continue;
    for (let k = 0; k < 3; k++) {
      const sum = sums.get(keyOf(f, k)) ?? [0, 0, 0, 0];
      for (let c = 0; c < 3; c++) sum[c]! += faceColors[f * 3 + c]!;
      sum[3]++;
      sums.set(keyOf(f, k), sum);
    }
  }
  const out = new Float64Array(faceParts.length * 9).fill(NaN);
  for (let f = 0; f < faceParts.length; f++) {
    if (Number.isNaN(faceColors[f * 3]!)) continue;
    for (let k = 0; k < 3; k++) {
      const sum = sums.get(keyOf(f, k))!;
      for (let c = 0; c < 3; c++) out[f * 9 + k * 3 + c] = sum[c]! / sum[3];
    }
  }
  return out;
}

function middlesOf({ positions: p, indices }: UvMesh): Float64Array {
  return Float64Array.from({ length: indices.length }, (_, i) => {
    const [f, k] = [Math.floor(i / 3), i % 3];
    return (
      (p[indices[f * 3]! * 3 + k]! + p[indices[f * 3 + 1]! * 3 + k]! + p[indices[f * 3 + 2]! * 3 + k]!) / 3
    );
  });
}

/** Shares of a triangle's corners at a place in its plane, held within it. */
function weightsIn(
  { positions: p, indices }: UvMesh,
  f: number,
  x: number,
  y: number,
  z: number,
): readonly [number, number, number] {
  const [a, b, c] = [indices[f * 3]! * 3, indices[f * 3 + 1]! * 3, indices[f * 3 + 2]! * 3];
  const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
  const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
  const [wx, wy, wz] = [x - p[a]!, y - p[a + 1]!, z - p[a + 2]!];
  const [uu, uv, vv] = [
    ux * ux + uy * uy + uz * uz,
    ux * vx + uy * vy + uz * vz,
    vx * vx + vy * vy + vz * vz,
  ];
  const [wu, wv] = [wx * ux + wy * uy + wz * uz, wx * vx + wy * vy + wz * vz];
  const under = uu * vv - uv * uv;
  if (!(under > 0)) return [1, 0, 0];
  const held = (s: number): number => Math.min(1, Math.max(0, s));
  const sb = held((vv * wu - uv * wv) / under);
  const sc = Math.min(1 - sb, held((uu * wv - uv * wu) / under));
  return [1 - sb - sc, sb, sc];
}
