import { CoreError } from '../errors';
import { findIslands, sheetCount, sheetOfFace, type UvMesh } from '../mesh';
import {
  GUTTER,
  NO_PART,
  NOWHERE,
  sheetSpans,
  spannedTiles,
  subTileBounds,
  type MeasuredSheet,
  type SurfaceMap,
} from './surface-map';
import { texelIndex, TILE_TEXELS, tileCount } from './tiling';

export interface MeasureOptions {
  /** Where the arrays' memory comes from, for example shared memory. */
  readonly allocate?: (bytes: number) => ArrayBufferLike;
  /** Told the part done, 0..1, now and then. */
  readonly onProgress?: (done: number) => void;
}

/** One sheet's share of the arrays. */
interface Work {
  mesh: UvMesh;
  sheet: number;
  size: number;
  px: Float32Array;
  py: Float32Array;
  pz: Float32Array;
  nx: Int16Array;
  ny: Int16Array;
  nz: Int16Array;
  face: Int32Array;
  part: Uint16Array;
  covered: Uint8Array;
}

/** UVs further than this many sheets across in one triangle are left out: no texture can show them. */
const MAX_SHEETS_ACROSS = 4;

/**
 * Measures the surface: every texel whose centre lies in a triangle gets that place's position and normal; every other
 * texel within GUTTER of an island gets those of the island's nearest border point, so that paint and cues reach past every
 * border and no seam can show. UVs outside 0..1 wrap around, as textures do.
 *
 * @param sizes texels a side of each sheet, of SHEET_SIZES; a number where there is one sheet
 * @throws CoreError `bad-argument` if parts lie on a sheet that has no size
 */
export function measureSurface(
  mesh: UvMesh,
  sizes: number | readonly number[],
  options: MeasureOptions = {},
): SurfaceMap {
  const spans = sheetSpans(typeof sizes === 'number' ? [sizes] : sizes);
  if (sheetCount(mesh) > spans.length) {
    throw new CoreError(
      'bad-argument',
      `The model's parts lie on ${sheetCount(mesh)} sheets, but ${spans.length} are there. Put them on one of those.`,
    );
  }
  const allocate = options.allocate ?? ((bytes: number) => new ArrayBuffer(bytes));
  const n = spannedTiles(spans) * TILE_TEXELS;
  const floats = (): Float32Array => new Float32Array(allocate(n * 4)).fill(NOWHERE);
  const shorts = (): Int16Array => new Int16Array(allocate(n * 2));
  const arrays = {
    px: floats(),
    py: floats(),
    pz: floats(),
    nx: shorts(),
    ny: shorts(),
    nz: shorts(),
    face: new Int32Array(allocate(n * 4)).fill(-1),
    part: new Uint16Array(allocate(n * 2)).fill(NO_PART),
    covered: new Uint8Array(allocate(n)),
  };
  const islands = findIslands(mesh);
  options.onProgress?.(0.2);
  let area = 0;
  let flatArea = 0;
  const sheets = spans.map((span, sheet): MeasuredSheet => {
    const share = <T extends Float32Array | Int32Array | Int16Array | Uint16Array | Uint8Array>(data: T): T =>
      data.subarray(span.firstTile * TILE_TEXELS, (span.firstTile + tileCount(span.size)) * TILE_TEXELS) as T;
    const { px, py, pz, nx, ny, nz, face, part, covered } = arrays;
    const work: Work = {
      mesh,
      sheet,
      size: span.size,
      px: share(px),
      py: share(py),
      pz: share(pz),
      nx: share(nx),
      ny: share(ny),
      nz: share(nz),
      face: share(face),
      part: share(part),
      covered: share(covered),
    };
    const counts = fillTriangles(work);
    options.onProgress?.(0.2 + (0.7 * (sheet + 0.5)) / spans.length);
    fillGutter(work, islands.edges.uses, islands.edges.ofCorner);
    options.onProgress?.(0.2 + (0.7 * (sheet + 1)) / spans.length);
    area += counts.area;
    flatArea += counts.flatArea;
    return {
      ...span,
      coveredTexels: counts.covered,
      overlappedTexels: counts.overlapped,
      texelLength: meanLength(counts.area, counts.flatArea),
    };
  });
  return {
    ...arrays,
    sheets,
    subBounds: subTileBounds(arrays.px, arrays.py, arrays.pz),
    islandOfFace: islands.ofFace,
    islands: islands.count,
    coveredTexels: sheets.reduce((sum, s) => sum + s.coveredTexels, 0),
    overlappedTexels: sheets.reduce((sum, s) => sum + s.overlappedTexels, 0),
    texelLength: meanLength(area, flatArea),
  };
}

/** Length of a texel's side on the model. @param flatArea in texels */
const meanLength = (area: number, flatArea: number): number =>
  flatArea > 0 ? Math.sqrt(area / flatArea) : 0;

/** A triangle's corners in texels (x from the left, y from the top), moved by whole sheets so that it begins in the first. */
function cornersInTexels(work: Work, f: number): Float64Array | null {
  const { mesh, size } = work;
  const out = new Float64Array(6);
  let minU = Infinity;
  let minV = Infinity;
  let maxU = -Infinity;
  let maxV = -Infinity;
  for (let k = 0; k < 3; k++) {
    const v = mesh.indices[f * 3 + k]! * 2;
    const u = mesh.uvs[v]!;
    const w = mesh.uvs[v + 1]!;
    out[k * 2] = u;
    out[k * 2 + 1] = w;
    minU = Math.min(minU, u);
    maxU = Math.max(maxU, u);
    minV = Math.min(minV, w);
    maxV = Math.max(maxV, w);
  }
  if (maxU - minU > MAX_SHEETS_ACROSS || maxV - minV > MAX_SHEETS_ACROSS) return null;
  const inside = minU >= 0 && minV >= 0 && maxU <= 1 && maxV <= 1;
  const shiftU = inside ? 0 : Math.floor(minU);
  const shiftV = inside ? 0 : Math.floor(minV);
  for (let k = 0; k < 3; k++) {
    out[k * 2] = (out[k * 2]! - shiftU) * size;
    out[k * 2 + 1] = (1 - (out[k * 2 + 1]! - shiftV)) * size;
  }
  return out;
}

const wrap = (i: number, size: number): number => ((i % size) + size) % size;

interface Filled {
  readonly covered: number;
  readonly overlapped: number;
  /** Of the triangles on the model, and on the sheet in texels. */
  readonly area: number;
  readonly flatArea: number;
}

function fillTriangles(work: Work): Filled {
  const { mesh, size } = work;
  const hits = new Uint8Array(size * size);
  let covered = 0;
  let overlapped = 0;
  let area = 0;
  let flatArea = 0;
  const faces = mesh.indices.length / 3;
  for (let f = 0; f < faces; f++) {
    if (sheetOfFace(mesh, f) !== work.sheet) continue;
    const t = cornersInTexels(work, f);
    if (!t) continue;
    const [x0, y0, x1, y1, x2, y2] = t as unknown as [number, number, number, number, number, number];
    const doubled = (x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0);
    if (doubled === 0) continue;
    const sign = doubled > 0 ? 1 : -1;
    const inverse = 1 / doubled;
    // A centre exactly on an edge belongs to the triangle that has the edge at its top or left.
    const owns = (dx: number, dy: number): boolean => sign * dy < 0 || (dy === 0 && sign * dx > 0);
    const own0 = owns(x2 - x1, y2 - y1);
    const own1 = owns(x0 - x2, y0 - y2);
    const own2 = owns(x1 - x0, y1 - y0);
    const left = Math.ceil(Math.min(x0, x1, x2) - 0.5);
    const right = Math.floor(Math.max(x0, x1, x2) - 0.5);
    const top = Math.ceil(Math.min(y0, y1, y2) - 0.5);
    const bottom = Math.floor(Math.max(y0, y1, y2) - 0.5);
    let filled = 0;
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= right; x++) {
        const cx = x + 0.5;
        const cy = y + 0.5;
        const w0 = ((x2 - x1) * (cy - y1) - (y2 - y1) * (cx - x1)) * inverse;
        const w1 = ((x0 - x2) * (cy - y2) - (y0 - y2) * (cx - x2)) * inverse;
        const w2 = ((x1 - x0) * (cy - y0) - (y1 - y0) * (cx - x0)) * inverse;
        if (w0 < 0 || w1 < 0 || w2 < 0) continue;
        if ((w0 === 0 && !own0) || (w1 === 0 && !own1) || (w2 === 0 && !own2)) continue;
        const i = texelIndex(size, wrap(x, size), wrap(y, size));
        if (hits[i]! > 0) {
          if (hits[i] === 1) overlapped++;
          hits[i] = 2;
          continue;
        }
        hits[i] = 1;
        filled++;
        put(work, i, f, w0, w1, w2);
        work.covered[i] = 1;
      }
    }
    covered += filled;
    area += triangleArea(mesh, f);
    flatArea += Math.abs(doubled) / 2;
  }
  return { covered, overlapped, area, flatArea };
}

function triangleArea(mesh: UvMesh, f: number): number {
  const p = (k: number, axis: number): number => mesh.positions[mesh.indices[f * 3 + k]! * 3 + axis]!;
  const ux = p(1, 0) - p(0, 0);
  const uy = p(1, 1) - p(0, 1);
  const uz = p(1, 2) - p(0, 2);
  const vx = p(2, 0) - p(0, 0);
  const vy = p(2, 1) - p(0, 1);
  const vz = p(2, 2) - p(0, 2);
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}

/** Writes the place with the given weights of triangle f into texel i. */
function put(work: Work, i: number, f: number, w0: number, w1: number, w2: number): void {
  const { mesh } = work;
  const a = mesh.indices[f * 3]! * 3;
  const b = mesh.indices[f * 3 + 1]! * 3;
  const c = mesh.indices[f * 3 + 2]! * 3;
  const p = mesh.positions;
  work.px[i] = p[a]! * w0 + p[b]! * w1 + p[c]! * w2;
  work.py[i] = p[a + 1]! * w0 + p[b + 1]! * w1 + p[c + 1]! * w2;
  work.pz[i] = p[a + 2]! * w0 + p[b + 2]! * w1 + p[c + 2]! * w2;
  const n = mesh.normals;
  let x = n[a]! * w0 + n[b]! * w1 + n[c]! * w2;
  let y = n[a + 1]! * w0 + n[b + 1]! * w1 + n[c + 1]! * w2;
  let z = n[a + 2]! * w0 + n[b + 2]! * w1 + n[c + 2]! * w2;
  const l = Math.hypot(x, y, z);
  if (l > 0) {
    x /= l;
    y /= l;
    z /= l;
  } else y = 1;
  work.nx[i] = Math.round(x * 32767);
  work.ny[i] = Math.round(y * 32767);
  work.nz[i] = Math.round(z * 32767);
  work.face[i] = f;
  work.part[i] = mesh.faceParts[f]!;
}

/** Gives the texels around the islands the place of the nearest point on a border edge. */
function fillGutter(work: Work, uses: Uint32Array, edgeOfCorner: Uint32Array): void {
  const { size } = work;
  const nearest = new Float32Array(size * size).fill(GUTTER * GUTTER);
  for (let corner = 0; corner < edgeOfCorner.length; corner++) {
    if (uses[edgeOfCorner[corner]!] !== 1) continue;
    const f = Math.floor(corner / 3);
    if (sheetOfFace(work.mesh, f) !== work.sheet) continue;
    const t = cornersInTexels(work, f);
    if (!t) continue;
    const k = corner % 3;
    const next = (k + 1) % 3;
    const ax = t[k * 2]!;
    const ay = t[k * 2 + 1]!;
    const dx = t[next * 2]! - ax;
    const dy = t[next * 2 + 1]! - ay;
    const squared = dx * dx + dy * dy;
    const left = Math.floor(Math.min(ax, ax + dx) - GUTTER);
    const right = Math.ceil(Math.max(ax, ax + dx) + GUTTER);
    const top = Math.floor(Math.min(ay, ay + dy) - GUTTER);
    const bottom = Math.ceil(Math.max(ay, ay + dy) + GUTTER);
    const w: [number, number, number] = [0, 0, 0];
    // A layout that stays on its sheet is shown clamped: nothing of it belongs to the opposite border.
    const stays = t.every((x) => x >= 0 && x <= size);
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= right; x++) {
        if (stays && (x < 0 || y < 0 || x >= size || y >= size)) continue;
        const qx = x + 0.5 - ax;
        const qy = y + 0.5 - ay;
        let s = squared > 0 ? (qx * dx + qy * dy) / squared : 0;
        s = s < 0 ? 0 : s > 1 ? 1 : s;
        const ex = qx - dx * s;
        const ey = qy - dy * s;
        const d2 = ex * ex + ey * ey;
        if (d2 >= GUTTER * GUTTER) continue;
        const i = texelIndex(size, wrap(x, size), wrap(y, size));
        if (work.covered[i] || d2 >= nearest[i]!) continue;
        nearest[i] = d2;
        w[0] = w[1] = w[2] = 0;
        w[k] = 1 - s;
        w[next] = s;
        put(work, i, f, w[0], w[1], w[2]);
      }
    }
  }
}
