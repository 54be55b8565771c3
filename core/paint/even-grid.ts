/** Numbers a cell: red, green and blue times alpha, alpha, and how much was put there. */
const CHANNELS = 5;

/** Passes of the box that stand for one Gaussian. */
const PASSES = 3;

/** A square of evenly spaced cells, into which scattered colours are put and from which they are read between the cells. */
export class EvenGrid {
  side = 0;
  private cells = new Float32Array(0);
  private other = new Float32Array(0);
  /** What was read last: colour times alpha, and alpha. */
  readonly read = new Float64Array(4);

  /** Begins another, with nothing in it. @param side cells a side */
  begin(side: number): void {
    this.side = side;
    const length = side * side * CHANNELS;
    if (this.cells.length < length) {
      this.cells = new Float32Array(length);
      this.other = new Float32Array(length);
    } else this.cells.fill(0, 0, length);
  }

  /** Puts a colour at x, y of -1..1, shared by the four cells around it. @param at of four numbers in `from`, colour times alpha */
  put(x: number, y: number, from: Float32Array, at: number): void {
    const { cells, side } = this;
    const gx = this.place(x);
    const gy = this.place(y);
    const x0 = Math.floor(gx);
    const y0 = Math.floor(gy);
    for (let n = 0; n < 4; n++) {
      const cx = x0 + (n & 1);
      const cy = y0 + (n >> 1);
      if (cx < 0 || cy < 0 || cx >= side || cy >= side) continue;
      const w = (n & 1 ? gx - x0 : 1 - (gx - x0)) * (n >> 1 ? gy - y0 : 1 - (gy - y0));
      const o = (cy * side + cx) * CHANNELS;
      for (let k = 0; k < 4; k++) cells[o + k]! += from[at + k]! * w;
      cells[o + 4]! += w;
    }
  }

  /** Reads what is at x, y of -1..1 into `read`. @returns false where nothing was put near */
  at(x: number, y: number): boolean {
    const { cells, side, read } = this;
    const gx = this.place(x);
    const gy = this.place(y);
    const x0 = Math.floor(gx);
    const y0 = Math.floor(gy);
    let all = 0;
    read.fill(0);
    for (let n = 0; n < 4; n++) {
      const cx = x0 + (n & 1);
      const cy = y0 + (n >> 1);
      if (cx < 0 || cy < 0 || cx >= side || cy >= side) continue;
      const w = (n & 1 ? gx - x0 : 1 - (gx - x0)) * (n >> 1 ? gy - y0 : 1 - (gy - y0));
      const o = (cy * side + cx) * CHANNELS;
      for (let k = 0; k < 4; k++) read[k]! += cells[o + k]! * w;
      all += cells[o + 4]! * w;
    }
    if (all < 1e-6) return false;
    for (let k = 0; k < 4; k++) read[k]! /= all;
    return true;
  }

  private place(x: number): number {
    return (x * 0.5 + 0.5) * (this.side - 1);
  }

  /**
   * Evens out by a Gaussian: three boxes with soft ends, whose variance is exact (P. Gwosdek, S. Grewenig, A. Bruhn and J. Weickert,
   * "Theoretical foundations of Gaussian convolution by extended box filtering", 2011).
   *
   * @param sigma its standard deviation, in parts of half the square
   */
  blur(sigma: number): void {
    const variance = (sigma * 0.5 * (this.side - 1)) ** 2 / PASSES;
    const l = Math.floor((Math.sqrt(12 * variance + 1) - 1) / 2);
    const end = ((2 * l + 1) * (l * (l + 1) - 3 * variance)) / (6 * (variance - (l + 1) ** 2));
    // Along columns, whole rows at a time; turned over, columns are rows.
    for (const _ of ['down', 'across']) {
      for (let pass = 0; pass < PASSES; pass++) {
        boxed(this.cells, this.other, this.side, l, end);
        [this.cells, this.other] = [this.other, this.cells];
      }
      turnedOver(this.cells, this.other, this.side);
      [this.cells, this.other] = [this.other, this.cells];
    }
  }
}

/** The mean over 2l + 1 cells and `end` of the next at either side, along columns; nothing lies beyond their ends. */
function boxed(from: Float32Array, to: Float32Array, side: number, l: number, end: number): void {
  const whole = 1 / (2 * l + 1 + 2 * end);
  const row = side * CHANNELS;
  const sums = new Float64Array(row);
  for (let i = 0; i < Math.min(l, side); i++) addTo(sums, from, i * row);
  for (let i = 0; i < side; i++) {
    if (i + l < side) addTo(sums, from, (i + l) * row);
    const before = i - l - 1 >= 0 ? (i - l - 1) * row : -1;
    const after = i + l + 1 < side ? (i + l + 1) * row : -1;
    const o = i * row;
    // In one go each: the grid is larger than what a processor has at hand.
    for (let k = 0; k < row; k++) {
      const gone = before < 0 ? 0 : from[before + k]!;
      const sum = sums[k]! - gone;
      sums[k] = sum;
      to[o + k] = (sum + (gone + (after < 0 ? 0 : from[after + k]!)) * end) * whole;
    }
  }
}

function addTo(sums: Float64Array, from: Float32Array, o: number): void {
  for (let k = 0; k < sums.length; k++) sums[k]! += from[o + k]!;
}

/** Rows as columns. */
function turnedOver(from: Float32Array, to: Float32Array, side: number): void {
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const [a, b] = [(y * side + x) * CHANNELS, (x * side + y) * CHANNELS];
      for (let k = 0; k < CHANNELS; k++) to[b + k] = from[a + k]!;
    }
  }
}
