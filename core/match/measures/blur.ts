/**
 * A plane evened out by a Gaussian; places that are not a number take no part and stay so. Three box averages stand for the bell (W. Wells,
 * "Efficient synthesis of Gaussian filters by cascaded uniform filters", 1986).
 *
 * @param sigma pixels
 */
export function blurred(plane: Float32Array, width: number, height: number, sigma: number): Float32Array {
  const values = plane.map((v) => (Number.isNaN(v) ? 0 : v));
  const weights = plane.map((v) => (Number.isNaN(v) ? 0 : 1));
  for (const radius of boxes(sigma)) {
    for (const rows of [values, weights]) {
      averageRows(rows, width, height, radius);
      averageColumns(rows, width, height, radius);
    }
  }
  return plane.map((v, i) => (Number.isNaN(v) || !(weights[i]! > 0) ? NaN : values[i]! / weights[i]!));
}

/** Half widths of three boxes whose variances add up to that of the bell. */
function boxes(sigma: number): number[] {
  const wide = Math.sqrt((12 * sigma * sigma) / 3 + 1);
  let low = Math.floor(wide);
  if (low % 2 === 0) low--;
  const lows = Math.round((12 * sigma * sigma - 3 * low * low - 12 * low - 9) / (-4 * low - 4));
  return [0, 1, 2].map((k) => ((k < lows ? low : low + 2) - 1) / 2);
}

function averageRows(plane: Float32Array, width: number, height: number, radius: number): void {
  const line = new Float64Array(width);
  const share = 1 / (2 * radius + 1);
  for (let y = 0; y < height; y++) {
    const o = y * width;
    let sum = 0;
    for (let x = 0; x < Math.min(radius, width); x++) sum += plane[o + x]!;
    // What lies outside counts as nothing.
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum += plane[o + x + radius]!;
      if (x - radius > 0) sum -= plane[o + x - radius - 1]!;
      line[x] = sum * share;
    }
    for (let x = 0; x < width; x++) plane[o + x] = line[x]!;
  }
}

/** All columns at once, row by row, as they lie in memory. */
function averageColumns(plane: Float32Array, width: number, height: number, radius: number): void {
  const before = plane.slice();
  const sums = new Float64Array(width);
  const share = 1 / (2 * radius + 1);
  for (let y = 0; y < Math.min(radius, height); y++)
    for (let x = 0; x < width; x++) sums[x]! += before[y * width + x]!;
  for (let y = 0; y < height; y++) {
    const [more, less, o] = [(y + radius) * width, (y - radius - 1) * width, y * width];
    if (y + radius < height) for (let x = 0; x < width; x++) sums[x]! += before[more + x]!;
    if (y - radius > 0) for (let x = 0; x < width; x++) sums[x]! -= before[less + x]!;
    for (let x = 0; x < width; x++) plane[o + x] = sums[x]! * share;
  }
}
