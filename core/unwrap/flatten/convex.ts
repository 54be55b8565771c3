import { distance, type Chart } from '../segment/chart';
import { minimumDegree } from '../linear/minimum-degree';
import { SparseLdl } from '../linear/sparse-ldl';
import { SparseBuilder } from '../linear/sparse-rows';

/**
 * A layout that can't fold: the longest border lies on a circle, every other vertex at the mean of its neighbours (W. T. Tutte,
 * "How to draw a graph", 1963). Holes are closed by a vertex in their middle while it is made. It is stretched badly, and a start
 * for relaxing.
 *
 * @param loops vertices of the borders in order, the longest first
 * @returns uv a vertex
 */
export function convexMap(chart: Chart, loops: readonly (readonly number[])[]): Float64Array {
  const { positions, indices } = chart;
  const own = positions.length / 3;
  const [border, ...holes] = loops as [readonly number[], ...(readonly number[])[]];
  const n = own + holes.length;
  const uv = new Float64Array(n * 2);
  const fixed = new Uint8Array(n);
  const step = (i: number): number => distance(positions, border[i]!, border[(i + 1) % border.length]!);
  const total = border.reduce((sum, _, i) => sum + step(i), 0);
  let along = 0;
  border.forEach((v, i) => {
    // Border edges without length get a little room, or their triangles would fold.
    const angle = (0.98 * (along / (total || 1)) + 0.02 * (i / border.length)) * 2 * Math.PI;
    uv[v * 2] = Math.cos(angle);
    uv[v * 2 + 1] = Math.sin(angle);
    fixed[v] = 1;
    along += step(i);
  });
  const spokes = holes.reduce((sum, hole) => sum + hole.length, 0);
  const builder = new SparseBuilder(n, indices.length * 4 + spokes * 4 + n);
  const right = [new Float64Array(n), new Float64Array(n)] as const;
  const link = (v: number, w: number): void => {
    if (fixed[v]) return;
    builder.add(v, v, 1);
    if (fixed[w]) {
      right[0][v]! += uv[w * 2]!;
      right[1][v]! += uv[w * 2 + 1]!;
    } else builder.add(v, w, -1);
  };
  for (let c = 0; c < indices.length; c++) {
    const i = indices[c]!;
    const j = indices[c % 3 === 2 ? c - 2 : c + 1]!;
    link(i, j);
    link(j, i);
  }
  holes.forEach((hole, h) => {
    for (const v of hole) {
      link(v, own + h);
      link(own + h, v);
    }
  });
  for (let v = 0; v < n; v++) {
    if (!fixed[v]) continue;
    builder.add(v, v, 1);
    right[0][v] = uv[v * 2]!;
    right[1][v] = uv[v * 2 + 1]!;
  }
  const matrix = builder.finish();
  const ldl = new SparseLdl(matrix, minimumDegree(matrix));
  for (let axis = 0; axis < 2; axis++) {
    ldl.solve(right[axis]!, right[axis]!);
    for (let v = 0; v < own; v++) uv[v * 2 + axis] = right[axis]![v]!;
  }
  return uv.slice(0, own * 2);
}
