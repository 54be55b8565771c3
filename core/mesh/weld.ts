/**
 * Numbers vertices so that those with exactly equal values share a number.
 *
 * @param streams per-vertex values, each with its stride; all hold the same number of vertices
 * @returns for every vertex the number of the first vertex that equals it
 */
export function weldExact(...streams: readonly { data: Float32Array; stride: number }[]): Uint32Array {
  const first = streams[0]!;
  const count = first.data.length / first.stride;
  const out = new Uint32Array(count);
  const capacity = 2 ** Math.ceil(Math.log2(Math.max(16, count * 2)));
  const table = new Int32Array(capacity).fill(-1);
  const bits = streams.map(({ data }) => {
    // Adding 0 turns -0 into 0, so that both weld.
    const plain = data.slice();
    for (let i = 0; i < plain.length; i++) plain[i]! += 0;
    return new Uint32Array(plain.buffer);
  });
  for (let v = 0; v < count; v++) {
    let h = 2166136261;
    for (let s = 0; s < streams.length; s++) {
      const { stride } = streams[s]!;
      for (let k = 0; k < stride; k++) {
        h = Math.imul(h ^ bits[s]![v * stride + k]!, 16777619);
        h ^= h >>> 15;
      }
    }
    let slot = h & (capacity - 1);
    for (;;) {
      const other = table[slot]!;
      if (other < 0) {
        table[slot] = v;
        out[v] = v;
        break;
      }
      if (same(other, v)) {
        out[v] = other;
        break;
      }
      slot = (slot + 1) & (capacity - 1);
    }
  }
  return out;

  function same(a: number, b: number): boolean {
    for (let s = 0; s < streams.length; s++) {
      const { stride } = streams[s]!;
      for (let k = 0; k < stride; k++) {
        if (bits[s]![a * stride + k] !== bits[s]![b * stride + k]) return false;
      }
    }
    return true;
  }
}
