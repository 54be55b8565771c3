/** For every pixel the nearest one that is known, and how far it is. */
export interface Nearest {
  /** Its index; -1 where nothing is known at all. */
  readonly from: Int32Array;
  /** Distance squared, in pixels. */
  readonly squared: Int32Array;
}

/**
 * The nearest known pixel of each, by a two-pass Euclidean distance sweep (8SSED: Leymarie and Levine, "Fast raster scan distance
 * propagation", 1992).
 *
 * @param known 1 where a pixel is known
 */
export function nearestKnown(known: Uint8Array, width: number, height: number): Nearest {
  const FAR = 1e8;
  const n = width * height;
  const dx = new Int16Array(n);
  const dy = new Int16Array(n);
  // The longest way on the largest sheet, squared, fits into 28 bits.
  const d2 = new Int32Array(n);
  for (let i = 0; i < n; i++) d2[i] = known[i] ? 0 : FAR;

  const offer = (i: number, from: number, ox: number, oy: number): void => {
    if (d2[from] === FAR) return;
    const x = dx[from]! + ox;
    const y = dy[from]! + oy;
    const d = x * x + y * y;
    if (d < d2[i]!) {
      d2[i] = d;
      dx[i] = x;
      dy[i] = y;
    }
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      // Nothing is nearer to a known one than itself.
      if (known[i]) continue;
      if (y > 0) {
        offer(i, i - width, 0, -1);
        if (x > 0) offer(i, i - width - 1, -1, -1);
        if (x < width - 1) offer(i, i - width + 1, 1, -1);
      }
      if (x > 0) offer(i, i - 1, -1, 0);
    }
    for (let x = width - 2, i = y * width + x; x >= 0; x--, i--) if (!known[i]) offer(i, i + 1, 1, 0);
  }
  for (let y = height - 1; y >= 0; y--) {
    for (let x = width - 1; x >= 0; x--) {
      const i = y * width + x;
      if (known[i]) continue;
      if (y < height - 1) {
        offer(i, i + width, 0, 1);
        if (x > 0) offer(i, i + width - 1, -1, 1);
        if (x < width - 1) offer(i, i + width + 1, 1, 1);
      }
      if (x < width - 1) offer(i, i + 1, 1, 0);
    }
    for (let x = 1, i = y * width + x; x < width; x++, i++) if (!known[i]) offer(i, i - 1, -1, 0);
  }
  // The ways have done their work: their place is taken by where they lead.
  const from = new Int32Array(n);
  for (let i = 0; i < n; i++) from[i] = d2[i] === FAR ? -1 : i + dy[i]! * width + dx[i]!;
  return { from, squared: d2 };
}

/**
 * Spreads colours outward: every pixel that isn't known takes the colour of the nearest known one.
 *
 * @param rgba rows from the top, RGBA of 8 or 16 bit, changed in place; what is filled takes alpha along with colour
 * @param known 1 where the pixel's colour counts
 * @param reach how far, in pixels; Infinity fills the whole sheet
 */
export function bleed(
  rgba: Uint8Array | Uint16Array,
  known: Uint8Array,
  width: number,
  height: number,
  reach: number,
): void {
  const { from, squared } = nearestKnown(known, width, height);
  const limit = reach * reach;
  for (let i = 0; i < known.length; i++) {
    const source = from[i]!;
    if (known[i] || source < 0 || squared[i]! > limit) continue;
    for (let k = 0; k < 4; k++) rgba[i * 4 + k] = rgba[source * 4 + k]!;
  }
}
