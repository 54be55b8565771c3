/**
 * The pairing of rows with columns that costs least in sum, by the shortest augmenting path (H. Kuhn 1955 and J. Munkres 1957, in the form
 * of R. Jonker and A. Volgenant, 1987).
 *
 * @param cost of a row with a column; there are as many rows as columns, or fewer
 * @returns the column of each row
 */
export function cheapestPairs(cost: readonly (readonly number[])[]): number[] {
  const rows = cost.length;
  const columns = cost[0]?.length ?? 0;
  // Numbered from 1; 0 stands for none.
  const rowPrice = new Float64Array(rows + 1);
  const columnPrice = new Float64Array(columns + 1);
  const rowOf = new Int32Array(columns + 1);
  const before = new Int32Array(columns + 1);
  for (let row = 1; row <= rows; row++) {
    rowOf[0] = row;
    let column = 0;
    const least = new Float64Array(columns + 1).fill(Infinity);
    const used = new Uint8Array(columns + 1);
    do {
      used[column] = 1;
      const r = rowOf[column]!;
      let step = Infinity;
      let next = 0;
      for (let c = 1; c <= columns; c++) {
        if (used[c]) continue;
        const reduced = cost[r - 1]![c - 1]! - rowPrice[r]! - columnPrice[c]!;
        if (reduced < least[c]!) {
          least[c] = reduced;
          before[c] = column;
        }
        if (least[c]! < step) {
          step = least[c]!;
          next = c;
        }
      }
      for (let c = 0; c <= columns; c++) {
        if (used[c]) {
          rowPrice[rowOf[c]!]! += step;
          columnPrice[c]! -= step;
        } else least[c]! -= step;
      }
      column = next;
    } while (rowOf[column] !== 0);
    for (; column !== 0; column = before[column]!) rowOf[column] = rowOf[before[column]!]!;
  }
  const out = new Array<number>(rows).fill(-1);
  for (let c = 1; c <= columns; c++) if (rowOf[c]! > 0) out[rowOf[c]! - 1] = c - 1;
  return out;
}
