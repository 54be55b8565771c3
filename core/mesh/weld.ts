import { boundsOf, diagonalOf } from './bounds';

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

/** Vertices nearer than this, in parts of the model's diagonal, are one place: what sin 2π leaves of 0 must not open a cylinder. */
export const WELD_REACH = 1e-6;

/** Any direction along which few vertices lie at the same distance, as axes would have it. */
const SWEEP = [0.5310857, 0.7131243, 0.4578991] as const;

/**
 * Numbers vertices by place: those that lie within WELD_REACH of one another share a number. For how a mesh hangs together only; no
 * vertex is moved.
 *
 * @param positions xyz a vertex
 * @returns for every vertex the number of the first vertex at its place
 */
export function weldPlaces(positions: Float32Array): Uint32Array {
  const out = weldExact({ data: positions, stride: 3 });
  const reach = WELD_REACH * diagonalOf(boundsOf(positions));
  if (!(reach > 0)) return out;
  const own = Uint32Array.from(out.keys()).filter((v) => out[v] === v);
  const along = new Float64Array(out.length);
  for (const v of own)
    along[v] =
      positions[v * 3]! * SWEEP[0] + positions[v * 3 + 1]! * SWEEP[1] + positions[v * 3 + 2]! * SWEEP[2];
  own.sort((a, b) => along[a]! - along[b]! || a - b);
  const near = (a: number, b: number): boolean => {
    const [x, y, z] = [0, 1, 2].map((k) => positions[a * 3 + k]! - positions[b * 3 + k]!) as [
      number,
      number,
      number,
    ];
    return x * x + y * y + z * z <= reach * reach;
  };
  const root = (v: number): number => {
    while (out[v] !== v) v = out[v]!;
    return v;
  };
  let met = false;
  for (let i = 0; i < own.length; i++) {
    const v = own[i]!;
    for (let j = i + 1; j < own.length && along[own[j]!]! - along[v]! <= reach; j++) {
      if (!near(v, own[j]!)) continue;
      const [a, b] = [root(v), root(own[j]!)];
      out[Math.max(a, b)] = Math.min(a, b);
      met = true;
    }
  }
  if (met) for (let v = 0; v < out.length; v++) out[v] = root(v);
  return out;
}
