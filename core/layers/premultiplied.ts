/** Colours 0..1, premultiplied by alpha, as straight ones of 16 bits; four numbers each. */
export function wordsOf(values: Float32Array): Uint16Array {
  const words = new Uint16Array(values.length);
  for (let o = 0; o < values.length; o += 4) {
    const a = values[o + 3]!;
    if (a <= 0) continue;
    for (let c = 0; c < 3; c++) words[o + c] = Math.round(Math.min(1, values[o + c]! / a) * 65535);
    words[o + 3] = Math.round(Math.min(1, a) * 65535);
  }
  return words;
}
