/** How two silhouettes differ. */
export interface SilhouetteMatch {
  /** What both cover, in parts of what either covers. */
  readonly iou: number;
  /** From the one's contour to the other's and back, pixels: the mean, and the farthest. */
  readonly contourMean: number;
  readonly contourWorst: number;
}

/**
 * Compares two silhouettes of a picture's size. Contours are compared both ways, so that neither what is missing nor what is too much goes
 * unseen.
 *
 * @param one, other 1 a pixel that is covered
 */
export function compareSilhouettes(
  one: Uint8Array,
  other: Uint8Array,
  width: number,
  height: number,
): SilhouetteMatch {
  let [both, either] = [0, 0];
  for (let i = 0; i < one.length; i++) {
    if (one[i] && other[i]) both++;
    if (one[i] || other[i]) either++;
  }
  const [a, b] = [contourOf(one, width, height), contourOf(other, width, height)];
  const [toA, toB] = [distancesTo(a, width, height), distancesTo(b, width, height)];
  let [sum, count, worst] = [0, 0, 0];
  for (const [contour, distances] of [
    [a, toB],
    [b, toA],
  ] as const) {
    for (let i = 0; i < contour.length; i++) {
      if (!contour[i]) continue;
      const d = Math.sqrt(distances[i]!);
      if (!Number.isFinite(d)) continue;
      sum += d;
      count++;
      worst = Math.max(worst, d);
    }
  }
  return {
    iou: either > 0 ? both / either : 1,
    contourMean: count > 0 ? sum / count : 0,
    contourWorst: worst,
  };
}

/** Covered pixels with one beside them that isn't; the picture's border is none. */
export function contourOf(mask: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!mask[i]) continue;
      const isEdge =
        (x > 0 && !mask[i - 1]) ||
        (x < width - 1 && !mask[i + 1]) ||
        (y > 0 && !mask[i - width]) ||
        (y < height - 1 && !mask[i + width]);
      if (isEdge) out[i] = 1;
    }
  }
  return out;
}

/**
 * Squared distances to the nearest marked pixel, exactly (P. Felzenszwalb and D. Huttenlocher, "Distance transforms of sampled functions",
 * 2012); Infinity where none is marked.
 */
export function distancesTo(marked: Uint8Array, width: number, height: number): Float64Array {
  const out = Float64Array.from(marked, (m) => (m ? 0 : Infinity));
  const line = new Float64Array(Math.max(width, height));
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) line[y] = out[y * width + x]!;
    const d = parabolas(line, height);
    for (let y = 0; y < height; y++) out[y * width + x] = d[y]!;
  }
  for (let y = 0; y < height; y++) {
    const row = out.subarray(y * width, (y + 1) * width);
    row.set(parabolas(row, width));
  }
  return out;
}

/** The lower envelope of parabolas that stand at each place, as high as told. */
function parabolas(f: Float64Array, n: number): Float64Array {
  const at = new Int32Array(n);
  const from = new Float64Array(n + 1);
  const out = new Float64Array(n).fill(Infinity);
  let k = -1;
  for (let q = 0; q < n; q++) {
    if (f[q] === Infinity) continue;
    let s = -Infinity;
    while (k >= 0) {
      const p = at[k]!;
      s = (f[q]! + q * q - (f[p]! + p * p)) / (2 * (q - p));
      if (s > from[k]!) break;
      k--;
      s = -Infinity;
    }
    k++;
    at[k] = q;
    from[k] = s;
    from[k + 1] = Infinity;
  }
  if (k < 0) return out;
  let j = 0;
  for (let q = 0; q < n; q++) {
    while (from[j + 1]! < q) j++;
    const p = at[j]!;
    out[q] = (q - p) * (q - p) + f[p]!;
  }
  return out;
}

/**
 * The nearest marked pixel of each pixel: distances are carried from neighbour to neighbour in two passes (P.-E. Danielsson, "Euclidean
 * distance mapping", 1980), at most a fraction of a pixel from exact; -1 where none is marked.
 */
export function nearestTo(marked: Uint8Array, width: number, height: number): Int32Array {
  const out = Int32Array.from(marked, (m, i) => (m ? i : -1));
  // Where the nearest lies from each pixel, so that nothing is divided on the way.
  const dx = new Int16Array(out.length);
  const dy = new Int16Array(out.length);
  const take = (i: number, from: number, stepX: number, stepY: number): void => {
    const other = out[from]!;
    if (other < 0) return;
    const x = dx[from]! + stepX;
    const y = dy[from]! + stepY;
    if (out[i]! >= 0 && x * x + y * y >= dx[i]! * dx[i]! + dy[i]! * dy[i]!) return;
    out[i] = other;
    dx[i] = x;
    dy[i] = y;
  };
  for (const way of [1, -1] as const) {
    for (let k = 0; k < height; k++) {
      const y = way > 0 ? k : height - 1 - k;
      const row = y * width;
      const hasBefore = y - way >= 0 && y - way < height;
      for (let j = 0; j < width; j++) {
        const x = way > 0 ? j : width - 1 - j;
        const i = row + x;
        if (j > 0) take(i, i - way, -way, 0);
        if (!hasBefore) continue;
        const above = i - way * width;
        take(i, above, 0, -way);
        if (x > 0) take(i, above - 1, -1, -way);
        if (x < width - 1) take(i, above + 1, 1, -way);
      }
      // What lies the other way along the row.
      for (let j = width - 2; j >= 0; j--) {
        const i = row + (way > 0 ? j : width - 1 - j);
        take(i, i + way, way, 0);
      }
    }
  }
  return out;
}
