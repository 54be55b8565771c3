/** The cells that an island takes up with its margin: row, first and last cell each. */
export interface Spans {
  readonly row: Int32Array;
  readonly from: Int32Array;
  readonly to: Int32Array;
  /** Rows that need most room, one in each slice of the island. */
  readonly widest: Int32Array;
}

/** An outline: ax, ay, bx, by an edge, b never lower than a. */
export type Segments = Float64Array;

/**
 * The cells within `reach` of an island, each row filled from its first to its last. A cell counts as soon as the outline touches it.
 * (Rows with gaps, so that islands could lie in hollows sideways too, filled the sheet 1 to 3 % more and took five times as long.)
 *
 * @param scale cells a unit of the outline
 * @param reach cells
 */
export function islandSpans(segments: Segments, scale: number, reach: number): Spans {
  let minY = Infinity;
  let maxY = -Infinity;
  for (let e = 0; e < segments.length; e += 4) {
    if (segments[e + 1]! < minY) minY = segments[e + 1]!;
    if (segments[e + 3]! > maxY) maxY = segments[e + 3]!;
  }
  const grow = Math.ceil(reach);
  const bottom = Math.floor(minY * scale) - grow;
  const rows = Math.max(0, Math.floor(maxY * scale) + grow - bottom + 1);
  const low = new Float64Array(rows).fill(Infinity);
  const high = new Float64Array(rows).fill(-Infinity);
  for (let e = 0; e < segments.length; e += 4) {
    const ax = segments[e]! * scale;
    const ay = segments[e + 1]! * scale;
    const bx = segments[e + 2]! * scale;
    const by = segments[e + 3]! * scale;
    const slope = by > ay ? (bx - ax) / (by - ay) : 0;
    const top = Math.floor(by);
    let y = Math.floor(ay);
    let p = ax;
    for (; y <= top; y++) {
      const q = y === top ? bx : ax + slope * (y + 1 - ay);
      const r = y - bottom;
      const left = p < q ? p : q;
      const right = p < q ? q : p;
      if (left < low[r]!) low[r] = left;
      if (right > high[r]!) high[r] = right;
      p = q;
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
  return {
    row: row.subarray(0, n),
    from: from.subarray(0, n),
    to: to.subarray(0, n),
    widest: widestRows(from, to, n),
  };
}

const SLICES = 12;

function widestRows(from: Int32Array, to: Int32Array, rows: number): Int32Array {
  const out = new Int32Array(Math.min(SLICES, rows));
  for (let i = 0; i < out.length; i++) {
    const end = Math.floor(((i + 1) * rows) / out.length);
    let best = Math.floor((i * rows) / out.length);
    for (let r = best + 1; r < end; r++) if (to[r]! - from[r]! > to[best]! - from[best]!) best = r;
    out[i] = best;
  }
  return out;
}

const FULL = 0xffffffff;

/** A square of cells, some of them taken. Tells quickly where spans fit. */
export class PackGrid {
  readonly size: number;
  /** Words of 32 cells a row. */
  private readonly words: number;
  /** A bit a cell, the leftmost one lowest. */
  private readonly taken: Uint32Array;
  /** For every word the last taken cell of its row up to the end of the word, -1 if there is none. */
  private readonly last: Int16Array;
  /** Scratch: a bit where a row of the outline in hand goes in or out. */
  private readonly turns: Uint32Array;
  /** The most cells that lie free side by side in each row, with the overhang at the edges. */
  private readonly free: Int32Array;
  private readonly overhang: number;

  /**
   * @param size cells a side
   * @param overhang cells that spans may reach over the edges of the square
   */
  constructor(size: number, overhang: number) {
    this.size = size;
    this.words = (size + 31) >> 5;
    this.taken = new Uint32Array(this.words * size);
    this.last = new Int16Array(this.words * size).fill(-1);
    this.turns = new Uint32Array(this.words * size);
    this.overhang = overhang;
    this.free = new Int32Array(size).fill(size + overhang * 2);
  }

  /**
   * The lowest, then leftmost shift at which no span meets a taken cell. Spans may hang over the edges of the square.
   *
   * @param width of the island itself, in cells: it must lie at least `air` from the edges
   * @param rowsOfUse between which shifts are of use, both included
   */
  find(
    { row, from, to, widest }: Spans,
    width: number,
    height: number,
    air: number,
    rowsOfUse: { readonly from: number; readonly to: number },
  ): { x: number; y: number } | null {
    const { size, free } = this;
    const minX = Math.ceil(air);
    const maxX = Math.floor(size - air - width);
    const minY = Math.max(minX, rowsOfUse.from);
    const maxY = Math.min(rowsOfUse.to, Math.floor(size - air - height));
    const rows = row.length;
    for (let y = minY; y <= maxY; y++) {
      let hasRoom = true;
      for (let i = 0; i < widest.length && hasRoom; i++) {
        const r = widest[i]!;
        const at = row[r]! + y;
        hasRoom = at < 0 || at >= size || free[at]! > to[r]! - from[r]!;
      }
      if (!hasRoom) continue;
      // A taken cell in the way moves all past itself. The widest rows are asked first: far apart, they soon tell.
      let x = minX;
      for (
        let clear = 0, i = 0;
        clear < widest.length && x <= maxX;
        i = i + 1 === widest.length ? 0 : i + 1
      ) {
        const r = widest[i]!;
        const past = this.pastTaken(row[r]! + y, from[r]! + x, to[r]! + x);
        clear = past > 0 ? 0 : clear + 1;
        x += past;
      }
      for (let clear = 0, r = 0; clear < rows && x <= maxX; r = r + 1 === rows ? 0 : r + 1) {
        const past = this.pastTaken(row[r]! + y, from[r]! + x, to[r]! + x);
        clear = past > 0 ? 0 : clear + 1;
        x += past;
      }
      if (x <= maxX) return { x, y };
    }
    return null;
  }

  /** How far cells from..to of a row must go to the right to lie beyond the last taken one of them; 0 if all are free. */
  private pastTaken(y: number, from: number, to: number): number {
    const { size, words, taken, last } = this;
    if (y < 0 || y >= size || to < 0) return 0;
    const right = to < size ? to : size - 1;
    const word = y * words + (right >> 5);
    const bits = taken[word]! & (FULL >>> (31 - (right & 31)));
    const hit = bits ? (right | 31) - Math.clz32(bits) : right < 32 ? -1 : last[word - 1]!;
    return hit < 0 || hit < from ? 0 : hit - from + 1;
  }

  /** Takes every cell that the outline touches or surrounds, scaled to cells and then moved by whole ones. */
  take(segments: Segments, scale: number, dx: number, dy: number): void {
    const { size, words, turns } = this;
    let low = size;
    let high = -1;
    for (let e = 0; e < segments.length; e += 4) {
      const ax = segments[e]! * scale + dx;
      const ay = segments[e + 1]! * scale + dy;
      const bx = segments[e + 2]! * scale + dx;
      const by = segments[e + 3]! * scale + dy;
      const slope = by > ay ? (bx - ax) / (by - ay) : 0;
      const y0 = Math.max(0, Math.floor(ay));
      const y1 = Math.min(size - 1, Math.floor(by));
      if (y0 < low) low = y0;
      if (y1 > high) high = y1;
      for (let y = y0; y <= y1; y++) {
        const p = y > ay ? ax + slope * (y - ay) : ax;
        const q = y + 1 < by ? ax + slope * (y + 1 - ay) : bx;
        this.takeRun(
          y,
          Math.max(0, Math.floor(p < q ? p : q)),
          Math.min(size - 1, Math.floor(p < q ? q : p)),
        );
        const middle = y + 0.5;
        if (ay > middle || by <= middle) continue;
        // Beyond each crossing at half height it is the other way round.
        const x = Math.max(0, Math.floor(ax + slope * (middle - ay)));
        if (x < size) turns[y * words + (x >> 5)]! ^= 1 << (x & 31);
      }
    }
    for (let y = low; y <= high; y++) this.fillRow(y);
  }

  /** How many cells are taken. */
  countTaken(): number {
    let count = 0;
    // Each turn takes the lowest bit away.
    for (const word of this.taken) for (let bits = word; bits; bits &= bits - 1) count++;
    return count;
  }

  private takeRun(y: number, from: number, to: number): void {
    if (from > to) return;
    const { taken } = this;
    const first = y * this.words + (from >> 5);
    const end = y * this.words + (to >> 5);
    const left = FULL << (from & 31);
    const right = FULL >>> (31 - (to & 31));
    if (first === end) {
      taken[first]! |= left & right;
      return;
    }
    taken[first]! |= left;
    taken.fill(FULL, first + 1, end);
    taken[end]! |= right;
  }

  /** Takes what lies between turns, and brings `last` and `free` up to date. */
  private fillRow(y: number): void {
    const { size, words, taken, last, turns, overhang } = this;
    const row = y * words;
    let inside = 0;
    let run = -1;
    // The first free cell after the last taken one.
    let begin = -overhang;
    let most = 0;
    for (let w = 0; w < words; w++) {
      // Bit by bit the exclusive or of all bits below.
      let bits = turns[row + w]!;
      if (bits || inside) {
        turns[row + w] = 0;
        bits ^= bits << 1;
        bits ^= bits << 2;
        bits ^= bits << 4;
        bits ^= bits << 8;
        bits ^= bits << 16;
        bits ^= inside;
        taken[row + w]! |= bits;
        inside = bits >> 31;
      }
      const cells = taken[row + w]!;
      if (cells) {
        const x = w * 32;
        run = x + 31 - Math.clz32(cells);
        // Runs of taken cells in the word, from the left; what is free before each of them.
        for (let rest = cells; rest;) {
          const first = x + 31 - Math.clz32(rest & -rest);
          if (first - begin > most) most = first - begin;
          // Beyond the run: the lowest bit that isn't taken.
          const above = ~(rest | ((rest & -rest) - 1));
          if (!above) {
            begin = x + 32;
            break;
          }
          begin = x + 31 - Math.clz32(above & -above);
          rest = begin - x < 32 ? rest & (FULL << (begin - x)) : 0;
        }
      }
      last[row + w] = run;
    }
    this.free[y] = Math.max(most, size + overhang - begin);
  }
}
