import { nextCorner } from '../../mesh';
import type { Chart } from '../segment/chart';
import { borderCrossings } from '../flatten/crossings';
import type { DirichletEnergy } from './dirichlet-energy';
import { relaxLayout } from './relax';
import type { RigidFit } from './rigid-fit';

/** Relaxing steps after each pull. */
const STEPS = 8;

/** Where from one round to the next so many times as much of the border lies over the piece, there is no hope. */
const MORE = 1.6;

/** A pull weighs so many times as much as the mean triangle when it is as long as the mean edge; from round to round it grows. */
const [STRENGTH, GROWTH] = [100, 3];

/** Lips are drawn apart by so much more than they lie over one another, in parts of the mean edge. */
const GAP = 0.2;

/** Where more than this part of the border lies over the piece, or as deep as this part of its extent, there is no hope. */
const [MOST_OF_BORDER, DEEPEST] = [0.12, 0.04];

/**
 * Draws apart what lies over itself by a little: the lips of a slit, neighbouring fingers. Border places that lie within the piece are pulled
 * across the border that they passed, and that one the other way, while everything is relaxed.
 *
 * @param uv a layout without folds; changed
 * @param opposite of `oppositeCorners`
 * @param rounds of pulling at the most
 * @returns whether nothing lies over itself any more
 */
export function partLips(
  chart: Chart,
  uv: Float64Array,
  opposite: Int32Array,
  energy: DirichletEnergy,
  rigid: RigidFit,
  rounds: number,
): boolean {
  const border: number[] = [];
  for (let c = 0; c < opposite.length; c++) if (opposite[c]! < 0) border.push(c);
  const pulls = new Map<number, [number, number]>();
  let lost = Infinity;
  for (let round = 0; round < rounds; round++) {
    const found = overlaps(chart, uv, border);
    if (!found || found.moves.size === 0 || found.lost > MORE * lost + 2) break;
    lost = found.lost;
    for (const [v, [x, y]] of found.moves) pulls.set(v, [uv[v * 2]! + x, uv[v * 2 + 1]! + y]);
    energy.pull(pulls, (STRENGTH * GROWTH ** round) / found.edge ** 2);
    relaxLayout(energy, rigid, uv, { steps: STEPS, tolerance: 1e-4, hopeless: Infinity });
    if (borderCrossings(chart, uv, 1, opposite).length === 0) {
      energy.pull(null, 0);
      return true;
    }
  }
  energy.pull(null, 0);
  return false;
}

/** Where border vertices ought to move; null if too many lie too deep. */
function overlaps(
  { indices }: Chart,
  uv: Float64Array,
  border: readonly number[],
): { moves: Map<number, readonly [number, number]>; edge: number; lost: number } | null {
  const from = (c: number): number => indices[c]!;
  const to = (c: number): number => indices[nextCorner(c)]!;
  let edge = 0;
  for (const c of border) edge += far(uv, from(c), to(c)) / border.length;
  let [minX, maxX, minY, maxY] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    minX = Math.min(minX, uv[i]!);
    maxX = Math.max(maxX, uv[i]!);
    minY = Math.min(minY, uv[i + 1]!);
    maxY = Math.max(maxY, uv[i + 1]!);
  }
  const deepest = DEEPEST * Math.hypot(maxX - minX, maxY - minY);
  const grid = new EdgeGrid(
    uv,
    border.map((c) => [from(c), to(c)] as const),
    minX,
    minY,
    edge * 2,
  );
  const faces = new FaceGrid(indices, uv, minX, minY, edge * 2);
  const moves = new Map<number, readonly [number, number]>();
  let lost = 0;
  for (const c of border) {
    const v = from(c);
    if (!faces.covers(v)) continue;
    lost++;
    // The border that it has passed is the nearest one that has it on its inner side.
    const near = grid.nearest(v, deepest);
    if (!near) return null;
    const [a, b] = near.edge;
    const l = far(uv, a, b) || 1;
    // Inside lies left of a border edge.
    const [nx, ny] = [-(uv[b * 2 + 1]! - uv[a * 2 + 1]!) / l, (uv[b * 2]! - uv[a * 2]!) / l];
    const way = near.depth / 2 + GAP * edge;
    add(moves, v, -nx * way, -ny * way);
    add(moves, a, nx * way, ny * way);
    add(moves, b, nx * way, ny * way);
  }
  return lost > MOST_OF_BORDER * border.length ? null : { moves, edge, lost };
}

/** Keeps the longer of two moves. */
function add(moves: Map<number, readonly [number, number]>, v: number, x: number, y: number): void {
  const known = moves.get(v);
  if (!known || Math.hypot(...known) < Math.hypot(x, y)) moves.set(v, [x, y]);
}

const far = (uv: Float64Array, a: number, b: number): number =>
  Math.hypot(uv[a * 2]! - uv[b * 2]!, uv[a * 2 + 1]! - uv[b * 2 + 1]!);

/** Things in the cells that their boxes touch. */
class Cells {
  private readonly cells = new Map<number, number[]>();
  private readonly x: number;
  private readonly y: number;
  private readonly size: number;

  constructor(x: number, y: number, size: number) {
    [this.x, this.y, this.size] = [x, y, size];
  }
  private at = (v: number, from: number): number => Math.floor((v - from) / this.size);

  add(id: number, box: readonly [number, number, number, number]): void {
    this.each(box, (key) => {
      const list = this.cells.get(key);
      if (list) list.push(id);
      else this.cells.set(key, [id]);
    });
  }
  near(box: readonly [number, number, number, number]): Set<number> {
    const out = new Set<number>();
    this.each(box, (key) => {
      for (const id of this.cells.get(key) ?? []) out.add(id);
    });
    return out;
  }
  private each(
    [x0, y0, x1, y1]: readonly [number, number, number, number],
    visit: (key: number) => void,
  ): void {
    for (let j = this.at(y0, this.y); j <= this.at(y1, this.y); j++)
      for (let i = this.at(x0, this.x); i <= this.at(x1, this.x); i++) visit(j * 2 ** 20 + i);
  }
}

class EdgeGrid {
  private readonly uv: Float64Array;
  private readonly edges: readonly (readonly [number, number])[];
  private readonly cells: Cells;
  private readonly step: number;

  constructor(
    uv: Float64Array,
    edges: readonly (readonly [number, number])[],
    x: number,
    y: number,
    size: number,
  ) {
    this.uv = uv;
    this.edges = edges;
    this.step = size;
    this.cells = new Cells(x, y, size);
    edges.forEach(([a, b], i) => {
      this.cells.add(i, [
        Math.min(uv[a * 2]!, uv[b * 2]!),
        Math.min(uv[a * 2 + 1]!, uv[b * 2 + 1]!),
        Math.max(uv[a * 2]!, uv[b * 2]!),
        Math.max(uv[a * 2 + 1]!, uv[b * 2 + 1]!),
      ]);
    });
  }

  /** The nearest edge that has a vertex on its left and doesn't end in it. */
  nearest(v: number, most: number): { edge: readonly [number, number]; depth: number } | null {
    const { uv } = this;
    const [x, y] = [uv[v * 2]!, uv[v * 2 + 1]!];
    for (let reach = this.step / 2; ; reach *= 2) {
      const r = Math.min(reach, most);
      let best: { edge: readonly [number, number]; depth: number } | null = null;
      for (const i of this.cells.near([x - r, y - r, x + r, y + r])) {
        const [a, b] = this.edges[i]!;
        if (a === v || b === v) continue;
        const [dx, dy] = [uv[b * 2]! - uv[a * 2]!, uv[b * 2 + 1]! - uv[a * 2 + 1]!];
        const [qx, qy] = [x - uv[a * 2]!, y - uv[a * 2 + 1]!];
        if (dx * qy - dy * qx <= 0) continue;
        const t = Math.max(0, Math.min(1, (qx * dx + qy * dy) / (dx * dx + dy * dy || 1)));
        const depth = Math.hypot(qx - t * dx, qy - t * dy);
        if (depth <= r && (!best || depth < best.depth)) best = { edge: [a, b], depth };
      }
      if (best || r >= most) return best;
    }
  }
}

class FaceGrid {
  private readonly indices: Uint32Array;
  private readonly uv: Float64Array;
  private readonly cells: Cells;

  constructor(indices: Uint32Array, uv: Float64Array, x: number, y: number, size: number) {
    this.indices = indices;
    this.uv = uv;
    this.cells = new Cells(x, y, size);
    for (let c = 0; c < indices.length; c += 3) {
      const [a, b, d] = [indices[c]! * 2, indices[c + 1]! * 2, indices[c + 2]! * 2];
      this.cells.add(c, [
        Math.min(uv[a]!, uv[b]!, uv[d]!),
        Math.min(uv[a + 1]!, uv[b + 1]!, uv[d + 1]!),
        Math.max(uv[a]!, uv[b]!, uv[d]!),
        Math.max(uv[a + 1]!, uv[b + 1]!, uv[d + 1]!),
      ]);
    }
  }

  /** Whether a vertex lies within a triangle that isn't one of its own. */
  covers(v: number): boolean {
    const { indices, uv } = this;
    const [x, y] = [uv[v * 2]!, uv[v * 2 + 1]!];
    for (const c of this.cells.near([x, y, x, y])) {
      if (indices[c] === v || indices[c + 1] === v || indices[c + 2] === v) continue;
      let inside = true;
      for (let k = c; k < c + 3 && inside; k++) {
        const [a, b] = [indices[k]! * 2, indices[nextCorner(k)]! * 2];
        inside = (uv[b]! - uv[a]!) * (y - uv[a + 1]!) - (uv[b + 1]! - uv[a + 1]!) * (x - uv[a]!) > 1e-12;
      }
      if (inside) return true;
    }
    return false;
  }
}
