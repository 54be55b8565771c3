/** Pixels from the darkest to the lightest, by their luma (Rec. 709 weights on encoded values); equal ones in the order given. */
export function lightnessRank(rgba: Uint8Array, pixels: Int32Array): Int32Array {
  const luma = (i: number): number =>
    Math.round(0.2126 * rgba[i * 4]! + 0.7152 * rgba[i * 4 + 1]! + 0.0722 * rgba[i * 4 + 2]!);
  // By counting: there are 256 of them.
  const starts = new Int32Array(257);
  for (const i of pixels) starts[luma(i) + 1]!++;
  for (let v = 0; v < 256; v++) starts[v + 1]! += starts[v]!;
  const out = new Int32Array(pixels.length);
  for (const i of pixels) out[starts[luma(i)]!++] = i;
  return out;
}
