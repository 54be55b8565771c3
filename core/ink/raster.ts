import { clamp01, type Vec3 } from '../math';
import { UNROLLED_STRIDE, sheetOfFace, type Unrolled } from '../mesh';
import {
  flatTriangle,
  GUTTER,
  INSIDE,
  layTriangle,
  TILE_TEXELS,
  texelLengths,
  texelOnSheet,
  wrap,
  type PlaceReader,
  type SurfaceMap,
} from '../surface';
import type { InkGround } from './ground';
import { halfWidths } from './half-widths';
import type { InkLine } from './line';
import { traceLine, type Trace } from './trace';

/** What covers some texels of a tile: their places in it, and how much of each, 0..65535. */
export interface Covered {
  readonly index: Uint16Array;
  readonly cover: Uint16Array;
}

/** The texels of a line, by tile. */
export interface LineTexels {
  readonly fill: ReadonlyMap<number, Covered> | null;
  readonly ink: ReadonlyMap<number, Covered>;
  /** Tiles in which it has any. */
  readonly tiles: readonly number[];
}

/** So long is the piece of a line that is drawn at once, texels, and in parts of half its width. */
const RUN_TEXELS = 10;
const RUN_WIDTHS = 0.75;

/** Around what is laid flat, texels. */
const AROUND = 2;

/** Corners of a closed line that its filling goes by. */
const MOST_CORNERS = 400;

/** A straight piece in flat coordinates, with half its width at both ends. */
interface Piece {
  readonly u0: number;
  readonly v0: number;
  readonly h0: number;
  readonly u1: number;
  readonly v1: number;
  readonly h1: number;
}

interface Box {
  readonly u0: number;
  readonly v0: number;
  readonly u1: number;
  readonly v1: number;
}

/** Coverage of tiles that are being drawn. */
class Drawing {
  private readonly tiles = new Map<number, Float32Array>();
  private readonly spare: Float32Array[] = [];

  raise(tile: number, i: number, cover: number): void {
    let values = this.tiles.get(tile);
    if (!values) this.tiles.set(tile, (values = this.spare.pop() ?? new Float32Array(TILE_TEXELS)));
    if (cover > values[i]!) values[i] = cover;
  }

  /** What was drawn; the next drawing begins empty. */
  take(): Map<number, Covered> {
    const out = new Map<number, Covered>();
    for (const [tile, values] of this.tiles) {
      let count = 0;
      for (let i = 0; i < TILE_TEXELS; i++) if (values[i]! > 0) count++;
      const [index, cover] = [new Uint16Array(count), new Uint16Array(count)];
      let k = 0;
      for (let i = 0; i < TILE_TEXELS; i++) {
        if (!(values[i]! > 0)) continue;
        index[k] = i;
        cover[k++] = Math.round(values[i]! * 65535);
      }
      values.fill(0);
      this.spare.push(values);
      out.set(tile, { index, cover });
    }
    this.tiles.clear();
    return out;
  }
}

/**
 * Draws lines on a surface. A line is cut into short runs; around each the surface is laid flat, and every texel there tells how far it
 * lies from the run over the surface. What is covered of a texel is what of its width, looked across the line, the line covers.
 */
export class InkRaster {
  private readonly surface: SurfaceMap;
  private readonly places: PlaceReader;
  readonly ground: InkGround;
  private readonly drawing = new Drawing();
  private readonly texelLength: (face: number, tile: number) => number;
  private readonly flat = flatTriangle();
  /** 1 for triangles along an island's border, which have texels beyond it. */
  private readonly hasGutter: Uint8Array;
  private readonly meanTexel: number;

  constructor(surface: SurfaceMap, places: PlaceReader, ground: InkGround) {
    this.surface = surface;
    this.places = places;
    this.ground = ground;
    this.texelLength = texelLengths(surface);
    this.hasGutter = new Uint8Array(surface.mesh.faceParts.length);
    for (const code of surface.codes) if (code >= 0 && (code & 3) !== INSIDE) this.hasGutter[code >> 2] = 1;
    const lengths = surface.sheets.map((s) => s.texelLength).filter((l) => l > 0);
    this.meanTexel = lengths.length ? Math.min(...lengths) : 1;
  }

  /** How a line lies on the surface. */
  trace(line: InkLine): Trace {
    return traceLine(line, this.ground, this.meanTexel);
  }

  draw(line: InkLine): LineTexels {
    const trace = this.trace(line);
    const half = halfWidths(line.style, trace, this.ground);
    const fill = line.closed && line.style.fill !== null ? this.fillIn(trace) : null;
    const many = trace.faces.length;
    for (let first = 0; first < many - 1;) {
      const last = this.endOfRun(trace, half, first);
      if (last > first) this.drawRun(trace, half, first, last);
      first = Math.max(last, first + 1);
    }
    const ink = this.drawing.take();
    return { fill, ink, tiles: [...new Set([...ink.keys(), ...(fill?.keys() ?? [])])] };
  }

  /** The last place of the run that begins at `first`; itself if the line has a gap there. */
  private endOfRun({ along, faces, begins }: Trace, half: Float64Array, first: number): number {
    const texel = this.meanTexel;
    let widest = half[first]!;
    let last = first;
    while (last + 1 < faces.length && !begins.has(last + 1)) {
      widest = Math.max(widest, half[last + 1]!);
      const longest = Math.max(RUN_TEXELS * texel, widest * RUN_WIDTHS);
      if (last > first && along[last + 1]! - along[first]! > longest) break;
      last++;
    }
    return last;
  }

  private drawRun({ at, faces, along }: Trace, half: Float64Array, first: number, last: number): void {
    let widest = 0;
    for (let i = first; i <= last; i++) widest = Math.max(widest, half[i]!);
    if (widest <= 0) return;
    const { unroller } = this.ground;
    const middle = along[first]! + (along[last]! - along[first]!) / 2;
    let m = first;
    while (m < last && along[m + 1]! <= middle) m++;
    const place = (i: number): Vec3 => [at[i * 3]!, at[i * 3 + 1]!, at[i * 3 + 2]!];
    const [a, b, c] = [place(first), place(last), place(m)];
    const furthest = Math.max(along[m]! - along[first]!, along[last]! - along[m]!);
    const reach = furthest + widest + AROUND * this.meanTexel;
    const flat = unroller.around(faces[m]!, ...c, b[0] - a[0], b[1] - a[1], b[2] - a[2], reach);
    const onFlat = (i: number): readonly [number, number] | null => {
      // A place on an edge lies on both of its triangles.
      const o = [faces[i]!, faces[Math.max(first, i - 1)]!, faces[Math.min(last, i + 1)]!]
        .map((f) => flat.indexOf(f))
        .find((slot) => slot >= 0);
      return o === undefined ? null : flatten(flat, o, ...place(i));
    };
    const pieces: Piece[] = [];
    let before = onFlat(first);
    for (let i = first + 1; i <= last; i++) {
      const here = onFlat(i);
      if (before && here && (half[i - 1]! > 0 || half[i]! > 0)) {
        pieces.push({
          u0: before[0],
          v0: before[1],
          h0: half[i - 1]!,
          u1: here[0],
          v1: here[1],
          h1: half[i]!,
        });
      }
      before = here;
    }
    if (pieces.length === 0) return;
    this.overTexels(flat, boxOf(pieces, widest), (u, v, texel) => {
      let most = 0;
      for (const piece of pieces) most = Math.max(most, coverOf(piece, u, v, texel));
      return most;
    });
  }

  /** Texels within a closed line: those on its smaller side, where the surface can be laid flat around its middle. */
  private fillIn({ at, faces }: Trace): ReadonlyMap<number, Covered> {
    const { ground } = this;
    const count = faces.length;
    const middle: [number, number, number] = [0, 0, 0];
    for (let i = 0; i < count; i++) for (let k = 0; k < 3; k++) middle[k]! += at[i * 3 + k]! / count;
    const from = ground.nearest(middle);
    let far = 0;
    for (let i = 0; i < count; i++) {
      far = Math.max(far, Math.hypot(...[0, 1, 2].map((k) => at[i * 3 + k]! - from.at[k]!)));
    }
    // The way over the surface is longer than the straight one.
    const flat = ground.unroller.around(from.face, ...from.at, 1, 0.01, 0.02, far * 1.6);
    const step = Math.max(1, Math.ceil(count / MOST_CORNERS));
    const corners: (readonly [number, number])[] = [];
    for (let i = 0; i < count; i += step) {
      const slot = flat.indexOf(faces[i]!);
      if (slot >= 0) corners.push(flatten(flat, slot, at[i * 3]!, at[i * 3 + 1]!, at[i * 3 + 2]!));
    }
    if (corners.length < 3) return new Map();
    const pieces = corners.map(([u0, v0], i): Piece => {
      const [u1, v1] = corners[(i + 1) % corners.length]!;
      return { u0, v0, h0: 0, u1, v1, h1: 0 };
    });
    this.overTexels(flat, boxOf(pieces, this.meanTexel), (u, v, texel) => {
      const away = Math.sqrt(
        pieces.reduce((least, piece) => Math.min(least, squaredTo(piece, u, v)), Infinity),
      );
      return clamp01((isWithin(pieces, u, v) ? away : -away) / texel + 0.5);
    });
    return this.drawing.take();
  }

  /**
   * Asks for all texels of what was laid flat.
   *
   * @param box only those that lie in here need to be asked for
   * @param cover told flat coordinates and the length of the texel; tells how much of it is covered
   */
  private overTexels(flat: Unrolled, box: Box, cover: (u: number, v: number, texel: number) => number): void {
    const { surface, places, drawing, flat: laid } = this;
    const { mesh, sheets, slotOfTile, codes } = surface;
    flat.faces.forEach((face, slot) => {
      const o = slot * UNROLLED_STRIDE;
      const sheet = sheets[sheetOfFace(mesh, face)]!;
      if (!layTriangle(mesh, face, sheet.size, laid)) return;
      const corners = [0, 1, 2].map((k) => flatten(flat, slot, ...this.ground.corner(face, k)));
      if (!touches(box, corners)) return;
      const t = laid.at;
      // From the sheet to the flat: affine over the triangle.
      const [ex, ey, fx, fy] = [t[2]! - t[0]!, t[3]! - t[1]!, t[4]! - t[0]!, t[5]! - t[1]!];
      const det = ex * fy - ey * fx;
      const [p, q, r] = corners as [Pair, Pair, Pair];
      const [qu, qv, ru, rv] = [q[0] - p[0], q[1] - p[1], r[0] - p[0], r[1] - p[1]];
      const ux = (qu * fy - ru * ey) / det;
      const uy = (ru * ex - qu * fx) / det;
      const vx = (qv * fy - rv * ey) / det;
      const vy = (rv * ex - qv * fx) / det;
      const around = this.hasGutter[face] ? GUTTER + 1 : 1;
      const [x0, y0, x1, y1] = boxOnSheet(box, [ux, uy, vx, vy], p, t, around);
      for (let y = y0; y <= y1; y++) {
        for (let x = x0; x <= x1; x++) {
          if (laid.stays && (x < 0 || y < 0 || x >= sheet.size || y >= sheet.size)) continue;
          const texel = texelOnSheet(sheet, wrap(x, sheet.size), wrap(y, sheet.size));
          const tile = Math.floor(texel / TILE_TEXELS);
          const at = slotOfTile[tile]!;
          if (at < 0) continue;
          const i = texel % TILE_TEXELS;
          const code = codes[at * TILE_TEXELS + i]!;
          if (code >> 2 !== face) continue;
          let [u, v] = [0, 0];
          if ((code & 3) === INSIDE) {
            const [dx, dy] = [x + 0.5 - t[0]!, y + 0.5 - t[1]!];
            u = p[0] + ux * dx + uy * dy;
            v = p[1] + vx * dx + vy * dy;
          } else {
            const { px, py, pz } = places.tile(tile)!;
            const m = flat.maps;
            u = m[o]! * px[i]! + m[o + 1]! * py[i]! + m[o + 2]! * pz[i]! + m[o + 3]!;
            v = m[o + 4]! * px[i]! + m[o + 5]! * py[i]! + m[o + 6]! * pz[i]! + m[o + 7]!;
          }
          const covered = cover(u, v, this.texelLength(face, tile));
          if (covered > 0) drawing.raise(tile, i, covered);
        }
      }
    });
  }
}

type Pair = readonly [number, number];

function flatten({ maps }: Unrolled, slot: number, x: number, y: number, z: number): Pair {
  const o = slot * UNROLLED_STRIDE;
  return [
    maps[o]! * x + maps[o + 1]! * y + maps[o + 2]! * z + maps[o + 3]!,
    maps[o + 4]! * x + maps[o + 5]! * y + maps[o + 6]! * z + maps[o + 7]!,
  ];
}

/** The box around pieces, widened. */
function boxOf(pieces: readonly Piece[], by: number): Box {
  const us = pieces.flatMap((p) => [p.u0, p.u1]);
  const vs = pieces.flatMap((p) => [p.v0, p.v1]);
  return {
    u0: Math.min(...us) - by,
    v0: Math.min(...vs) - by,
    u1: Math.max(...us) + by,
    v1: Math.max(...vs) + by,
  };
}

/** Whether a triangle's box meets another. */
function touches({ u0, v0, u1, v1 }: Box, corners: readonly Pair[]): boolean {
  const us = corners.map((c) => c[0]);
  const vs = corners.map((c) => c[1]);
  return Math.max(...us) >= u0 && Math.min(...us) <= u1 && Math.max(...vs) >= v0 && Math.min(...vs) <= v1;
}

/** The texels from which to which a flat box lies on the sheet, within a triangle's own. */
function boxOnSheet(
  box: Box,
  [ux, uy, vx, vy]: readonly [number, number, number, number],
  [pu, pv]: Pair,
  t: Float64Array,
  around: number,
): [x0: number, y0: number, x1: number, y1: number] {
  let x0 = Math.min(t[0]!, t[2]!, t[4]!);
  let x1 = Math.max(t[0]!, t[2]!, t[4]!);
  let y0 = Math.min(t[1]!, t[3]!, t[5]!);
  let y1 = Math.max(t[1]!, t[3]!, t[5]!);
  const det = ux * vy - uy * vx;
  if (Number.isFinite(det) && det !== 0) {
    const xs: number[] = [];
    const ys: number[] = [];
    for (const u of [box.u0, box.u1]) {
      for (const v of [box.v0, box.v1]) {
        xs.push(t[0]! + (vy * (u - pu) - uy * (v - pv)) / det);
        ys.push(t[1]! + (ux * (v - pv) - vx * (u - pu)) / det);
      }
    }
    x0 = Math.max(x0, Math.min(...xs));
    x1 = Math.min(x1, Math.max(...xs));
    y0 = Math.max(y0, Math.min(...ys));
    y1 = Math.min(y1, Math.max(...ys));
  }
  return [Math.floor(x0 - around), Math.floor(y0 - around), Math.ceil(x1 + around), Math.ceil(y1 + around)];
}

/** How far along a piece a place lies, 0..1. */
function alongPiece({ u0, v0, u1, v1 }: Piece, u: number, v: number): number {
  const [du, dv] = [u1 - u0, v1 - v0];
  const l = du * du + dv * dv;
  return l > 0 ? clamp01(((u - u0) * du + (v - v0) * dv) / l) : 0;
}

function squaredTo(piece: Piece, u: number, v: number): number {
  const t = alongPiece(piece, u, v);
  const [x, y] = [u - piece.u0 - (piece.u1 - piece.u0) * t, v - piece.v0 - (piece.v1 - piece.v0) * t];
  return x * x + y * y;
}

/** The part of a texel that a piece covers, looked at across it. */
function coverOf(piece: Piece, u: number, v: number, texel: number): number {
  const t = alongPiece(piece, u, v);
  const half = piece.h0 + (piece.h1 - piece.h0) * t;
  if (half <= 0) return 0;
  const [x, y] = [u - piece.u0 - (piece.u1 - piece.u0) * t, v - piece.v0 - (piece.v1 - piece.v0) * t];
  const d = Math.sqrt(x * x + y * y);
  return clamp01((Math.min(d + texel / 2, half) - Math.max(d - texel / 2, -half)) / texel);
}

/** Whether a place lies within a polygon, by how often a ray from it crosses it. */
function isWithin(pieces: readonly Piece[], u: number, v: number): boolean {
  let within = false;
  for (const { u0, v0, u1, v1 } of pieces) {
    if (v0 > v !== v1 > v && u < u0 + ((u1 - u0) * (v - v0)) / (v1 - v0)) within = !within;
  }
  return within;
}
