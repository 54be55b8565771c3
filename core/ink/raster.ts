import { clamp01, type Vec3 } from '../math';
import { UNROLLED_STRIDE, sheetOfFace, type Unrolled } from '../mesh';
import {
  flatTriangle,
  GUTTER,
  INSIDE,
  layTriangle,
  spannedTiles,
  TILE_TEXELS,
  texelLengths,
  texelOnSheet,
  wrap,
  type PlaceReader,
  type SurfaceMap,
} from '../surface';
import { Drawing, type Covered } from './drawing';
import type { InkSurface } from './ink-surface';
import { halfWidths } from './half-widths';
import type { InkLine } from './line';
import { Pieces, type Box, type Steps } from './pieces';
import { traceLine, type Trace } from './trace';

/** The texels of a line, by tile. */
export interface LineTexels {
  readonly fill: ReadonlyMap<number, Covered> | null;
  readonly ink: ReadonlyMap<number, Covered>;
  /** Tiles in which it has any. */
  readonly tiles: readonly number[];
  /** Places where it has no surface to go on over. */
  readonly gaps: number;
}

/** So long is the piece of a line that is drawn at once, texels, and in parts of half its width. */
const RUN_TEXELS = 16;
const RUN_WIDTHS = 0.75;

/** A line that is straight but for so much is one piece, texels. */
const SAME = 0.04;

/** Around what is laid flat, texels. */
const AROUND = 2;

/** Corners of a closed line that its filling goes by. */
const MOST_CORNERS = 400;

/** A place of a line in flat coordinates, with half its width there. */
interface Place {
  readonly u: number;
  readonly v: number;
  readonly h: number;
}

/** Whether a straight piece passes a place as near, and as wide, as makes no difference. */
function isPassed(p: Place, from: Place, to: Place, tolerance: number): boolean {
  const [du, dv] = [to.u - from.u, to.v - from.v];
  const l2 = du * du + dv * dv;
  const t = l2 > 0 ? clamp01(((p.u - from.u) * du + (p.v - from.v) * dv) / l2) : 0;
  const off = Math.hypot(p.u - from.u - du * t, p.v - from.v - dv * t);
  return off <= tolerance && Math.abs(p.h - from.h - (to.h - from.h) * t) <= tolerance;
}

/**
 * Draws lines on a surface. A line is cut into short runs; around each the surface is laid flat, and every texel there tells how far it
 * lies from the run over the surface. What is covered of a texel is what of its width, looked across the line, the line covers.
 */
export class InkRaster {
  private readonly surface: SurfaceMap;
  private readonly places: PlaceReader;
  readonly ground: InkSurface;
  private readonly drawing = new Drawing();
  private readonly texelLength: (face: number, tile: number) => number;
  private readonly flat = flatTriangle();
  private readonly pieces = new Pieces();
  private readonly corners = new Float64Array(6);
  private readonly onSheet = new Int32Array(4);
  /** 1 for triangles along an island's border, which have texels beyond it. */
  private readonly hasGutter: Uint8Array;
  private readonly meanTexel: number;

  constructor(surface: SurfaceMap, places: PlaceReader, ground: InkSurface) {
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
      if (last > first || trace.beside.has(first)) this.drawRun(trace, half, first, last);
      first = Math.max(last, first + 1);
    }
    const ink = this.drawing.take();
    const tiles = [...new Set([...ink.keys(), ...(fill?.keys() ?? [])])];
    return { fill, ink, tiles, gaps: trace.begins.size };
  }

  /** The last place of the run that begins at `first`; itself if the line has a gap there. */
  private endOfRun({ along, faces, begins, beside }: Trace, half: Float64Array, first: number): number {
    const texel = this.meanTexel;
    let widest = half[first]!;
    let last = first;
    while (last + 1 < faces.length && !begins.has(last + 1) && !beside.has(last + 1)) {
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
    const { pieces } = this;
    pieces.clear();
    /** Where the piece in hand begins, and the places that it passes. */
    let from: Place | null = null;
    let passed: Place[] = [];
    const lay = (to: Place): void => {
      if (from && (from.h > 0 || to.h > 0)) pieces.add(from.u, from.v, from.h, to.u, to.v, to.h);
    };
    for (let i = first; i <= last; i++) {
      const at = onFlat(i);
      const here = at && { u: at[0], v: at[1], h: half[i]! };
      const before = passed.at(-1);
      if (here && from && passed.every((p) => isPassed(p, from!, here, this.meanTexel * SAME))) {
        passed.push(here);
        continue;
      }
      if (before) lay(before);
      from = here && before ? before : here;
      passed = here && before ? [here] : [];
    }
    const end = passed.at(-1);
    if (end) lay(end);
    // One place alone is a dot.
    else if (from) pieces.add(from.u, from.v, from.h, from.u, from.v, from.h);
    if (pieces.count === 0) return;
    this.overTexels(flat, pieces.box(widest + this.meanTexel), (u, v, _, steps) => pieces.cover(u, v, steps));
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
    const { pieces } = this;
    pieces.clear();
    corners.forEach(([u0, v0], i) => {
      const [u1, v1] = corners[(i + 1) % corners.length]!;
      pieces.add(u0, v0, 0, u1, v1, 0);
    });
    this.overTexels(flat, pieces.box(this.meanTexel), (u, v, texel) => {
      const away = Math.sqrt(pieces.squaredTo(u, v));
      return clamp01((pieces.surround(u, v) ? away : -away) / texel + 0.5);
    });
    return this.drawing.take();
  }

  /**
   * Asks for all texels of what was laid flat.
   *
   * @param box only those that lie in here need to be asked for
   * @param cover told flat coordinates and the length of the texel; tells how much of it is covered
   */
  private overTexels(
    flat: Unrolled,
    box: Box,
    cover: (u: number, v: number, texel: number, steps: Steps) => number,
  ): void {
    const { surface, places, drawing, flat: laid, corners, onSheet } = this;
    const { mesh, sheets, slotOfTile, codes } = surface;
    const tilesALayer = spannedTiles(sheets);
    const m = flat.maps;
    const t = laid.at;
    flat.faces.forEach((face, slot) => {
      const o = slot * UNROLLED_STRIDE;
      this.flattenCorners(face, m, o);
      if (!touches(box, corners)) return;
      const sheet = sheets[sheetOfFace(mesh, face)]!;
      const { size } = sheet;
      if (!layTriangle(mesh, face, size, laid)) return;
      // From the sheet to the flat: affine over the triangle.
      const [ex, ey, fx, fy] = [t[2]! - t[0]!, t[3]! - t[1]!, t[4]! - t[0]!, t[5]! - t[1]!];
      const det = ex * fy - ey * fx;
      const [pu, pv] = [corners[0]!, corners[1]!];
      const [qu, qv, ru, rv] = [corners[2]! - pu, corners[3]! - pv, corners[4]! - pu, corners[5]! - pv];
      const ux = (qu * fy - ru * ey) / det;
      const uy = (ru * ex - qu * fx) / det;
      const vx = (qv * fy - rv * ey) / det;
      const vy = (rv * ex - qv * fx) / det;
      const isLaid = Number.isFinite(1 / det);
      const steps: Steps = [ux, vx, uy, vy];
      boxOnSheet(box, ux, uy, vx, vy, pu, pv, t, onSheet);
      const around = this.hasGutter[face] ? GUTTER + 1 : 0;
      let [x0, y0, x1, y1] = [
        onSheet[0]! - around,
        onSheet[1]! - around,
        onSheet[2]! + around,
        onSheet[3]! + around,
      ];
      if (laid.stays)
        [x0, y0, x1, y1] = [Math.max(0, x0), Math.max(0, y0), Math.min(size - 1, x1), Math.min(size - 1, y1)];
      for (let y = y0; y <= y1; y++) {
        for (let x = x0; x <= x1; x++) {
          const number = laid.stays
            ? texelOnSheet(sheet, x, y)
            : texelOnSheet(sheet, wrap(x, size), wrap(y, size));
          const pixels = Math.floor(number / TILE_TEXELS);
          const i = number % TILE_TEXELS;
          // Of the places that share the texel, the one on this triangle.
          let tile = pixels;
          let code = -1;
          for (; tile < slotOfTile.length; tile += tilesALayer) {
            const at = slotOfTile[tile]!;
            code = at < 0 ? -1 : codes[at * TILE_TEXELS + i]!;
            if (code >> 2 === face) break;
          }
          if (code >> 2 !== face) continue;
          let u = 0;
          let v = 0;
          if ((code & 3) === INSIDE) {
            const dx = x + 0.5 - t[0]!;
            const dy = y + 0.5 - t[1]!;
            u = pu + ux * dx + uy * dy;
            v = pv + vx * dx + vy * dy;
          } else {
            const { px, py, pz } = places.tile(tile)!;
            u = m[o]! * px[i]! + m[o + 1]! * py[i]! + m[o + 2]! * pz[i]! + m[o + 3]!;
            v = m[o + 4]! * px[i]! + m[o + 5]! * py[i]! + m[o + 6]! * pz[i]! + m[o + 7]!;
          }
          if (u < box.u0 || u > box.u1 || v < box.v0 || v > box.v1) continue;
          const texel = this.texelLength(face, tile);
          const covered = cover(u, v, texel, isLaid ? steps : [texel, 0, 0, texel]);
          if (covered > 0) drawing.raise(pixels, i, covered);
        }
      }
    });
  }

  /** Writes where a triangle's corners lie on the flat. */
  private flattenCorners(face: number, m: Float64Array, o: number): void {
    const { positions: p, indices } = this.surface.mesh;
    for (let k = 0; k < 3; k++) {
      const v = indices[face * 3 + k]! * 3;
      const [x, y, z] = [p[v]!, p[v + 1]!, p[v + 2]!];
      this.corners[k * 2] = m[o]! * x + m[o + 1]! * y + m[o + 2]! * z + m[o + 3]!;
      this.corners[k * 2 + 1] = m[o + 4]! * x + m[o + 5]! * y + m[o + 6]! * z + m[o + 7]!;
    }
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

/** Whether a triangle's box meets another. @param c its corners, u and v each */
const touches = ({ u0, v0, u1, v1 }: Box, c: Float64Array): boolean =>
  Math.max(c[0]!, c[2]!, c[4]!) >= u0 &&
  Math.min(c[0]!, c[2]!, c[4]!) <= u1 &&
  Math.max(c[1]!, c[3]!, c[5]!) >= v0 &&
  Math.min(c[1]!, c[3]!, c[5]!) <= v1;

/** Writes the texels from which to which a flat box lies on the sheet, within a triangle's own: x and y of the first, x and y of the last. */
function boxOnSheet(
  box: Box,
  ux: number,
  uy: number,
  vx: number,
  vy: number,
  pu: number,
  pv: number,
  t: Float64Array,
  out: Int32Array,
): void {
  let x0 = Math.min(t[0]!, t[2]!, t[4]!);
  let x1 = Math.max(t[0]!, t[2]!, t[4]!);
  let y0 = Math.min(t[1]!, t[3]!, t[5]!);
  let y1 = Math.max(t[1]!, t[3]!, t[5]!);
  const det = ux * vy - uy * vx;
  if (Number.isFinite(det) && det !== 0) {
    // The middle of the box on the sheet, and how far it reaches there.
    const u = (box.u0 + box.u1) / 2 - pu;
    const v = (box.v0 + box.v1) / 2 - pv;
    const [du, dv] = [(box.u1 - box.u0) / 2, (box.v1 - box.v0) / 2];
    const x = t[0]! + (vy * u - uy * v) / det;
    const y = t[1]! + (ux * v - vx * u) / det;
    const dx = (Math.abs(vy) * du + Math.abs(uy) * dv) / Math.abs(det);
    const dy = (Math.abs(ux) * dv + Math.abs(vx) * du) / Math.abs(det);
    x0 = Math.max(x0, x - dx);
    x1 = Math.min(x1, x + dx);
    y0 = Math.max(y0, y - dy);
    y1 = Math.min(y1, y + dy);
  }
  out[0] = Math.floor(x0);
  out[1] = Math.floor(y0);
  out[2] = Math.floor(x1);
  out[3] = Math.floor(y1);
}
