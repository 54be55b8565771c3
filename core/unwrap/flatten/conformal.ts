import { distance, type Chart } from '../segment/chart';
import { cotangent, restShapes } from './rest-shape';
import { solveHermitian } from '../linear/hermitian-ldl';
import { minimumDegree } from '../linear/minimum-degree';
import { SparseBuilder } from '../linear/sparse-rows';

/**
 * Least-squares conformal map: angles are kept as well as can be, borders are free (B. Lévy et al., "Least Squares Conformal
 * Maps for Automatic Texture Atlas Generation", 2002; in the form Dirichlet energy minus area of M. Desbrun, M. Meyer,
 * P. Alliez, "Intrinsic Parameterizations of Surface Meshes", 2002). Triangles may fold: look with `foldedTriangles`.
 *
 * @param chart connected, with at least one border
 * @param border vertices of its longest border, of which two far apart are pinned
 * @returns uv a vertex, pins at (0, 0) and (1, 0)
 */
export function conformalMap(
  chart: Chart,
  border: readonly number[],
  shapes: Float64Array = restShapes(chart),
): Float64Array {
  const { positions, indices } = chart;
  const n = positions.length / 3;
  const [a, b] = farPair(positions, border);
  // One complex unknown a vertex, z = u + iv. The energy is z^H H z / 2 with H the Laplacian less the area, whose entry for an
  // edge i to j is -i/2; along inner edges the areas of both sides cancel.
  const builder = new SparseBuilder(n, indices.length * 4 + 2);
  const areas = new SparseBuilder(n, indices.length * 4 + 2);
  const right = new Float64Array(n * 2);
  const add = (i: number, j: number, real: number, imaginary: number): void => {
    if (i === a || i === b) return;
    if (j === b) {
      right[i * 2]! -= real;
      right[i * 2 + 1]! -= imaginary;
    } else if (j !== a) {
      builder.add(i, j, real);
      areas.add(i, j, imaginary);
    }
  };
  for (let f = 0; f < indices.length / 3; f++) {
    for (let k = 0; k < 3; k++) {
      const i = indices[f * 3 + ((k + 1) % 3)]!;
      const j = indices[f * 3 + ((k + 2) % 3)]!;
      const w = cotangent(shapes, f, k) / 2;
      add(i, i, w, 0);
      add(j, j, w, 0);
      add(i, j, -w, 0.5);
      add(j, i, -w, -0.5);
    }
  }
  for (const held of [a, b]) {
    builder.add(held, held, 1);
    areas.add(held, held, 0);
  }
  right[b * 2] = 1;
  const matrix = builder.finish();
  // Both were filled in the same order, so their entries stand in the same places.
  const hermitian = { ...matrix, imaginary: areas.finish().value };
  solveHermitian(hermitian, minimumDegree(matrix), right);
  return right;
}

/** Two border vertices far apart: the farthest from the first, and the farthest from that. */
function farPair(p: Float32Array, border: readonly number[]): [number, number] {
  const farthest = (from: number): number => {
    let best = border[0]!;
    for (const v of border) if (distance(p, v, from) > distance(p, best, from)) best = v;
    return best;
  };
  const a = farthest(border[0]!);
  const b = farthest(a);
  return a === b ? [a, border.find((v) => v !== a) ?? a] : [a, b];
}
