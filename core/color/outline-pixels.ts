/**
 * A picture with nothing outside of a closed line: pixels whose middles lie in it an odd number of times stay.
 *
 * @param rgba rows from the top; it is left as it is
 * @param outline corners in pixels from the upper left
 */
export function withinOutline(
  rgba: Uint8Array | Uint8ClampedArray,
  width: number,
  height: number,
  outline: readonly (readonly [x: number, y: number])[],
): Uint8Array {
  const out = new Uint8Array(rgba.length);
  for (let y = 0; y < height; y++) {
    const middle = y + 0.5;
    const crossings: number[] = [];
    outline.forEach(([ax, ay], i) => {
      const [bx, by] = outline[(i + 1) % outline.length]!;
      if (ay <= middle !== by <= middle) crossings.push(ax + ((middle - ay) / (by - ay)) * (bx - ax));
    });
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, Math.ceil(crossings[k]! - 0.5));
      const to = Math.min(width, Math.ceil(crossings[k + 1]! - 0.5));
      if (from < to) {
        const [start, end] = [(y * width + from) * 4, (y * width + to) * 4];
        out.set(rgba.subarray(start, end), start);
      }
    }
  }
  return out;
}
