/** The cells that an island takes up with its margin: row, first and last cell each. */
export interface Spans {
  readonly row: Int32Array;
  readonly from: Int32Array;
  readonly to: Int32Array;
}

/**
 * The cells within `reach` of an island, each row filled from its first to its last. A cell counts as soon as the outline touches it.
 * (Rows with gaps, so that islands could lie in hollows sideways too, filled the sheet 1 to 3 % more and took five times as long.)
 *
 * @param points xy each, in cells
 * @param edges two points each: the outline
 */
export function islandSpans(points: Float64Array, edges: Uint32Array, reach: number): Spans {
  let minY = Infinity;
  let maxY = -Infinity;
  for (const p of edges) {
    minY = Math.min(minY, points[p * 2 + 1]!);
    maxY = Math.max(maxY, points[p * 2 + 1]!);
  }
  const grow = Math.ceil(reach);
  const bottom = Math.floor(minY) - grow;
  const rows = Math.max(0, Math.floor(maxY) + grow - bottom + 1);
  const low = new Float64Array(rows).fill(Infinity);
  const high = new Float64Array(rows).fill(-Infinity);
  for (let e = 0; e < edges.length; e += 2) {
    let ax = points[edges[e]! * 2]!;
    let ay = points[edges[e]! * 2 + 1]!;
    let bx = points[edges[e + 1]! * 2]!;
    let by = points[edges[e + 1]! * 2 + 1]!;
    if (ay > by) [ax, ay, bx, by] = [bx, by, ax, ay];
    const slope = by > ay ? (bx - ax) / (by - ay) : 0;
    for (let y = Math.floor(ay); y <= by; y++) {
      const p = by > ay ? ax + slope * (Math.max(ay, y) - ay) : ax;
      const q = by > ay ? ax + slope * (Math.min(by, y + 1) - ay) : bx;
      low[y - bottom] = Math.min(low[y - bottom]!, p, q);
      high[y - bottom] = Math.max(high[y - bottom]!, p, q);
    }
  }
  // Rows d apart come as near as d - 1 cells: so far a row reaches sideways into the one d above or below.
  const sideways = Float64Array.from({ length: grow + 1 }, (_, d) => {
    const apart = Math.max(0, d - 1);
    return apart > reach ? -1 : Math.sqrt(reach * reach - apart * apart);
  });
  const row = new Int32Array(rows);
  const from = new Int32Array(rows);
  const to = new Int32Array(rows);
  let n = 0;
  for (let r = 0; r < rows; r++) {
    let a = Infinity;
    let b = -Infinity;
    const top = Math.min(rows - 1, r + grow);
    for (let source = Math.max(0, r - grow); source <= top; source++) {
      const x = sideways[source < r ? r - source : source - r]!;
      if (x < 0 || low[source] === Infinity) continue;
      if (low[source]! - x < a) a = low[source]! - x;
      if (high[source]! + x > b) b = high[source]! + x;
    }
    if (a > b) continue;
    row[n] = bottom + r;
    from[n] = Math.floor(a);
    to[n] = Math.floor(b);
    n++;
  }
  return { row: row.subarray(0, n), from: from.subarray(0, n), to: to.subarray(0, n) };
}

/** A square of cells, some of them taken. Tells quickly where spans fit. */
export class PackGrid {
  readonly size: number;
  /** For every cell of a row the last taken cell up to it, -1 if there is none. */
  private readonly last: Int16Array;
  private readonly taken: Uint8Array;

  constructor(size: number) {
    this.size = size;
    this.last = new Int16Array(size * size).fill(-1);
    this.taken = new Uint8Array(size * size);
  }

  /**
   * The lowest, then leftmost shift at which no span meets a taken cell. Spans may hang over the edges of the square.
   *
   * @param box how far the island itself reaches, in cells: it must lie within `air` of the edges
   * @param highest shifts above are of no use
   */
  find(
    { row, from, to }: Spans,
    box: { minX: number; minY: number; maxX: number; maxY: number },
    air: number,
    highest: number,
  ): { x: number; y: number } | null {
    const { size, last } = this;
    const minX = Math.ceil(air - box.minX);
    const maxX = Math.floor(size - air - box.maxX);
    const minY = Math.ceil(air - box.minY);
    const maxY = Math.min(highest, Math.floor(size - air - box.maxY));
    const rows = row.length;
    let start = 0;
    for (let y = minY; y <= maxY; y++) {
      let x = minX;
      let clear = 0;
      // Spans are asked in turn, beginning with the one that was in the way; a taken cell moves all of it past itself.
      for (let r = start; clear < rows; r = r + 1 === rows ? 0 : r + 1) {
        clear++;
        const at = row[r]! + y;
        if (at < 0 || at >= size) continue;
        const right = Math.min(size - 1, to[r]! + x);
        if (right < 0) continue;
        const hit = last[at * size + right]!;
        if (hit < from[r]! + x) continue;
        x = hit - from[r]! + 1;
        if (x > maxX) break;
        clear = 0;
        start = r;
      }
      if (x <= maxX && clear >= rows) return { x, y };
    }
    return null;
  }

  /**
   * Takes every cell that the outline touches or surrounds.
   *
   * @param points xy each, in cells
   * @param edges two points each
   */
  take(points: Float64Array, edges: Uint32Array): void {
    const { size, taken, last } = this;
    let low = size;
    let high = -1;
    const crossings: number[][] = [];
    // The first and the last cell taken of each row.
    const left = new Int16Array(size).fill(size);
    const right = new Int16Array(size).fill(-1);
    const fill = (y: number, from: number, to: number): void => {
      if (from > to) return;
      if (from < left[y]!) left[y] = from;
      if (to > right[y]!) right[y] = to;
      taken.fill(1, y * size + from, y * size + to + 1);
    };
    for (let e = 0; e < edges.length; e += 2) {
      let ax = points[edges[e]! * 2]!;
      let ay = points[edges[e]! * 2 + 1]!;
      let bx = points[edges[e + 1]! * 2]!;
      let by = points[edges[e + 1]! * 2 + 1]!;
      if (ay > by) [ax, ay, bx, by] = [bx, by, ax, ay];
      const slope = by > ay ? (bx - ax) / (by - ay) : 0;
      const y0 = Math.max(0, Math.floor(ay));
      const y1 = Math.min(size - 1, Math.floor(by));
      low = Math.min(low, y0);
      high = Math.max(high, y1);
      for (let y = y0; y <= y1; y++) {
        const p = by > ay ? ax + slope * (Math.max(ay, y) - ay) : ax;
        const q = by > ay ? ax + slope * (Math.min(by, y + 1) - ay) : bx;
        fill(y, Math.max(0, Math.floor(Math.min(p, q))), Math.min(size - 1, Math.floor(Math.max(p, q))));
        const middle = y + 0.5;
        if (ay <= middle && by > middle) (crossings[y] ??= []).push(ax + slope * (middle - ay));
      }
    }
    for (let y = low; y <= high; y++) {
      const list = crossings[y]?.sort((a, b) => a - b) ?? [];
      for (let k = 0; k + 1 < list.length; k += 2) {
        fill(y, Math.max(0, Math.floor(list[k]!)), Math.min(size, Math.floor(list[k + 1]!)) - 1);
      }
      // From the first new cell up to the next one that was taken before: beyond it nothing changes.
      let run = left[y]! > 0 && left[y]! < size ? last[y * size + left[y]! - 1]! : -1;
      for (let x = left[y]!; x < size; x++) {
        if (taken[y * size + x]) {
          if (x > right[y]!) break;
          run = x;
        }
        last[y * size + x] = run;
      }
    }
  }
}
