import { edgeLengths, topologyOf, type Mesh } from '../mesh';

/** Rounds of evening out at the most: more change next to nothing, and cost a second on 100,000 triangles. */
const MOST_ROUNDS = 300;

/**
 * A mesh's normals evened out along its surface, as heat spreads: each round every place takes half of its own and half of the mean of
 * its neighbours', and rounds go on until the spread has the wanted width (a step of length e spreads by e²/2 a round).
 *
 * @param radius how far, model units; 0 gives the normals as they are
 * @returns unit xyz a vertex; vertices of one place share theirs
 */
export function calmNormals(
  mesh: Pick<Mesh, 'positions' | 'indices' | 'normals'>,
  radius: number,
): Float32Array {
  const { normals } = mesh;
  if (!(radius > 0)) return normals;
  const topology = topologyOf(mesh);
  const { welded, edges } = topology;
  const lengths = edgeLengths(topology, mesh.positions);
  const mean = lengths.length ? lengths.reduce((a, b) => a + b, 0) / lengths.length : 0;
  const rounds = mean > 0 ? Math.min(MOST_ROUNDS, Math.ceil(2 * (radius / mean) ** 2)) : 0;
  let now = new Float64Array(normals.length);
  for (let v = 0; v < welded.length; v++) {
    for (let k = 0; k < 3; k++) now[welded[v]! * 3 + k]! += normals[v * 3 + k]!;
  }
  unit(now);
  for (let round = 0; round < rounds; round++) {
    const sum = new Float64Array(now.length);
    const weight = new Float64Array(now.length / 3);
    for (let e = 0; e < lengths.length; e++) {
      const [a, b] = [edges.ends[e * 2]!, edges.ends[e * 2 + 1]!];
      if (a === b) continue;
      weight[a]!++;
      weight[b]!++;
      for (let k = 0; k < 3; k++) {
        sum[a * 3 + k]! += now[b * 3 + k]!;
        sum[b * 3 + k]! += now[a * 3 + k]!;
      }
    }
    const next = now.slice();
    for (let v = 0; v < weight.length; v++) {
      if (weight[v] === 0) continue;
      for (let k = 0; k < 3; k++)
        next[v * 3 + k] = 0.5 * now[v * 3 + k]! + (0.5 * sum[v * 3 + k]!) / weight[v]!;
    }
    unit(next);
    now = next;
  }
  return Float32Array.from(normals, (_, i) => now[welded[Math.floor(i / 3)]! * 3 + (i % 3)]!);
}

function unit(vectors: Float64Array): void {
  for (let i = 0; i < vectors.length; i += 3) {
    const l = Math.hypot(vectors[i]!, vectors[i + 1]!, vectors[i + 2]!);
    if (!(l > 0)) continue;
    vectors[i]! /= l;
    vectors[i + 1]! /= l;
    vectors[i + 2]! /= l;
  }
}
