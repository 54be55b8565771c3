/** A symmetric sparse matrix by rows (compressed): row i's entries stand from start[i] to start[i + 1], both halves. */
export interface SparseRows {
  readonly start: Uint32Array;
  readonly column: Uint32Array;
  readonly value: Float64Array;
}

/** Collects entries of a sparse matrix in flat arrays; equal places are added up at the end. */
export class SparseBuilder {
  private row: Int32Array;
  private column: Int32Array;
  private value: Float64Array;
  private used = 0;
  readonly size: number;

  /** @param room entries that will be added at the most; grows if there are more */
  constructor(size: number, room: number) {
    this.size = size;
    this.row = new Int32Array(room);
    this.column = new Int32Array(room);
    this.value = new Float64Array(room);
  }

  /** Adds to an entry. */
  add(row: number, column: number, value: number): void {
    if (this.used === this.row.length) this.grow();
    this.row[this.used] = row;
    this.column[this.used] = column;
    this.value[this.used++] = value;
  }

  private grow(): void {
    const room = this.row.length * 2 + 16;
    const { row, column, value } = this;
    (this.row = new Int32Array(room)).set(row);
    (this.column = new Int32Array(room)).set(column);
    (this.value = new Float64Array(room)).set(value);
  }

  /** Sorted by row; within a row in the order of first appearance. */
  finish(): SparseRows {
    const { size, used } = this;
    const first = new Uint32Array(size + 1);
    for (let i = 0; i < used; i++) first[this.row[i]! + 1]!++;
    for (let r = 0; r < size; r++) first[r + 1]! += first[r]!;
    const at = first.slice();
    const order = new Uint32Array(used);
    for (let i = 0; i < used; i++) order[at[this.row[i]!]!++] = i;
    const start = new Uint32Array(size + 1);
    const column = new Uint32Array(used);
    const value = new Float64Array(used);
    const place = new Int32Array(size).fill(-1);
    let n = 0;
    for (let r = 0; r < size; r++) {
      start[r] = n;
      for (let k = first[r]!; k < first[r + 1]!; k++) {
        const i = order[k]!;
        const c = this.column[i]!;
        if (place[c]! >= start[r]!) value[place[c]!]! += this.value[i]!;
        else {
          place[c] = n;
          column[n] = c;
          value[n++] = this.value[i]!;
        }
      }
    }
    start[size] = n;
    return { start, column: column.slice(0, n), value: value.slice(0, n) };
  }
}
