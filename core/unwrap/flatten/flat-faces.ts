import { faceGeometry, type Mesh, type Topology } from '../../mesh';
import type { FlatChart } from './flatten';

/** Less than this part of the mean area is none. */
const NO_AREA = 1e-9;

/**
 * A mesh without triangles two of whose corners lie at one place: poles, and what is left of collapsed edges. They would tear the surface apart, for
 * two others meet along what is left of them. Of a part's triangles that lie on one another, facing the same way, one stays. Null where there are none.
 */
export function withoutCollapsed(
  mesh: Pick<Mesh, 'positions' | 'indices' | 'faceParts'>,
  { welded }: Topology,
): { readonly mesh: Pick<Mesh, 'positions' | 'indices'>; readonly faces: Uint32Array } | null {
  const { indices } = mesh;
  const faces: number[] = [];
  const known = new Set<string>();
  for (let f = 0; f < indices.length / 3; f++) {
    const [a, b, c] = [0, 1, 2].map((k) => welded[indices[f * 3 + k]!]!) as [number, number, number];
    if (a === b || b === c || c === a) continue;
    const turned = a < b && a < c ? [a, b, c] : b < c ? [b, c, a] : [c, a, b];
    const name = `${turned.join(' ')} ${mesh.faceParts[f]!}`;
    if (known.has(name)) continue;
    known.add(name);
    faces.push(f);
  }
  if (faces.length === indices.length / 3 || faces.length === 0) return null;
  const kept = Uint32Array.from(faces.flatMap((f) => [...indices.subarray(f * 3, f * 3 + 3)]));
  return { mesh: { positions: mesh.positions, indices: kept }, faces: Uint32Array.from(faces) };
}

/** Charts that have an area: what has none is no island. All are kept if none has. */
export function chartsWithArea(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  charts: readonly FlatChart[],
): FlatChart[] {
  const { areas } = faceGeometry(mesh);
  const mean = areas.reduce((sum, a) => sum + a, 0) / (areas.length || 1);
  const out = charts.filter(({ chart }) => chart.faces.some((f) => areas[f]! > mean * NO_AREA));
  return out.length > 0 ? out : [...charts];
}

/**
 * Lays corners of triangles that are in no chart onto those of a triangle beside them, so that they take no room on the sheet.
 *
 * @param uvs a corner; changed
 * @param isLaid 1 a triangle that is in a chart
 */
export function layFlatFaces(
  { indices }: Pick<Mesh, 'indices'>,
  { welded }: Topology,
  uvs: Float32Array,
  isLaid: Uint8Array,
): void {
  const around = new Map<number, number[]>();
  const vertexOf = (c: number): number => welded[indices[c]!]!;
  const lone: number[] = [];
  isLaid.forEach((is, f) => {
    if (!is) lone.push(f);
  });
  if (lone.length === 0) return;
  const wanted = new Set(lone.flatMap((f) => [0, 1, 2].map((k) => vertexOf(f * 3 + k))));
  for (let c = 0; c < indices.length; c++) {
    const v = vertexOf(c);
    if (!isLaid[Math.floor(c / 3)] || !wanted.has(v)) continue;
    const list = around.get(v);
    if (list) list.push(c);
    else around.set(v, [c]);
  }
  for (const f of lone) {
    // That triangle has most corners in common which is met most often.
    const met = new Map<number, number>();
    for (let k = 0; k < 3; k++)
      for (const c of around.get(vertexOf(f * 3 + k)) ?? [])
        met.set(Math.floor(c / 3), (met.get(Math.floor(c / 3)) ?? 0) + 1);
    let best = -1;
    for (const [g, times] of met) if (best < 0 || times > met.get(best)!) best = g;
    if (best < 0) continue;
    for (let k = 0; k < 3; k++) {
      const same = [0, 1, 2].find((j) => vertexOf(best * 3 + j) === vertexOf(f * 3 + k)) ?? 0;
      uvs[(f * 3 + k) * 2] = uvs[(best * 3 + same) * 2]!;
      uvs[(f * 3 + k) * 2 + 1] = uvs[(best * 3 + same) * 2 + 1]!;
    }
  }
}
