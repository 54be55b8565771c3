/**
 * Points of the R2 low-discrepancy sequence in the unit square (M. Roberts, "The Unreasonable Effectiveness of
 * Quasirandom Sequences", 2018): additive recurrence on the plastic number. Deterministic, any prefix is well spread.
 *
 * @param count how many points
 * @returns `count` pairs, interleaved (u, v), each in [0, 1)
 */
export function r2Sequence(count: number): Float64Array {
  const plastic = 1.32471795724474602596;
  const a1 = 1 / plastic;
  const a2 = 1 / (plastic * plastic);
  const out = new Float64Array(count * 2);
  for (let i = 0; i < count; i++) {
    out[i * 2] = (0.5 + a1 * (i + 1)) % 1;
    out[i * 2 + 1] = (0.5 + a2 * (i + 1)) % 1;
  }
  return out;
}

/**
 * Cosine-weighted directions of the upper half space (Malley's method: uniform disc, lifted to the hemisphere).
 *
 * @param count how many directions
 * @returns `count` unit vectors, interleaved (x, y, z), z ≥ 0 along the normal
 */
export function cosineDirections(count: number): Float32Array {
  const points = r2Sequence(count);
  const out = new Float32Array(count * 3);
  for (let i = 0; i < count; i++) {
    // Stratify the radius by the index: every ring of equal area holds one direction.
    const r2 = (i + points[i * 2]!) / count;
    const angle = 2 * Math.PI * points[i * 2 + 1]!;
    const r = Math.sqrt(r2);
    out[i * 3] = r * Math.cos(angle);
    out[i * 3 + 1] = r * Math.sin(angle);
    out[i * 3 + 2] = Math.sqrt(Math.max(0, 1 - r2));
  }
  return out;
}

/** A seeded generator of numbers in [0, 1) (mulberry32): the same seed, the same numbers. */
export function seededRandom(seed: number): () => number {
  let s = seed >>> 0;
  return () => {
    s = (s + 0x6d2b79f5) >>> 0;
    let t = s;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
