/** Numbers a cell: red, green and blue times alpha, alpha, and how much was put there. */
const CHANNELS = 5;

/** Passes of the box that stand for one Gaussian. */
const PASSES = 3;

/** A square of evenly spaced cells, into which scattered colours are put and from which they are read between the cells. */
export class EvenGrid {
  side = 0;
  private cells = new Float64Array(0);
  private other = new Float64Array(0);
  /** What was read last: colour times alpha, and alpha. */
  readonly read = new Float64Array(4);

  /** Begins another, with nothing in it. @param side cells a side */
  begin(side: number): void {
    this.side = side;
    const length = side * side * CHANNELS;
    if (this.cells.length < length) {
      this.cells = new Float64Array(length);
      this.other = new Float64Array(length);
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
    const { side } = this;
    const row = side * CHANNELS;
    for (let pass = 0; pass < PASSES; pass++) {
      boxed(this.cells, this.other, side, row, CHANNELS, l, end);
      boxed(this.other, this.cells, side, CHANNELS, row, l, end);
    }
  }
}

/** The mean over 2l + 1 cells and `end` of the next at either side, along lines; nothing lies beyond their ends. */
function boxed(
  from: Float64Array,
  to: Float64Array,
  side: number,
  line: number,
  step: number,
  l: number,
  end: number,
): void {
  const whole = 1 / (2 * l + 1 + 2 * end);
  for (let n = 0; n < side; n++) {
    for (let k = 0; k < CHANNELS; k++) {
      const o = n * line + k;
      let sum = 0;
      for (let i = 0; i < l && i < side; i++) sum += from[o + i * step]!;
      for (let i = 0; i < side; i++) {
        if (i + l < side) sum += from[o + (i + l) * step]!;
        if (i - l - 1 >= 0) sum -= from[o + (i - l - 1) * step]!;
        const before = i - l - 1 >= 0 ? from[o + (i - l - 1) * step]! : 0;
        const after = i + l + 1 < side ? from[o + (i + l + 1) * step]! : 0;
        to[o + i * step] = (sum + (before + after) * end) * whole;
      }
    }
  }
}
