import { faceGeometry, topologyOf, type Mesh } from '../mesh';
import { lightAt, prepareLight } from './evaluate';
import type { LightPlan } from './light-plan';
import { lightness } from './tones';

/** All of the key light, no edges, nothing below: what follows from the normal alone. */
const OPEN = { seen: 1, ridge: 0, below: null } as const;

/**
 * How fast a plan's light falls off along the surface, from the lightness at the corners of triangles (that of a plane through three
 * values, and at a vertex the mean over its triangles by their areas). What is cast or bounced doesn't count.
 *
 * @param normals as the plan sees them, unit xyz a vertex
 * @returns a vertex, in parts of lightness over one unit of length; vertices of one place share theirs
 */
export function lightSlopes(mesh: Mesh, plan: LightPlan, normals: Float32Array): Float32Array {
  const { indices, positions, faceParts, parts } = mesh;
  const light = prepareLight(plan);
  const own = new Map(plan.parts);
  const out = new Float64Array(3);
  const { areas } = faceGeometry(mesh);
  const { welded } = topologyOf(mesh);
  const sum = new Float64Array(welded.length);
  const weight = new Float64Array(welded.length);
  const value = (v: number, strength: number): number => {
    lightAt(light, normals[v * 3]!, normals[v * 3 + 1]!, normals[v * 3 + 2]!, OPEN, out);
    return Math.min(1, lightness(out) * strength);
  };
  for (let f = 0; f < areas.length; f++) {
    if (!(areas[f]! > 0)) continue;
    const strength = own.get(parts[faceParts[f]!]!) ?? 1;
    const [a, b, c] = [indices[f * 3]!, indices[f * 3 + 1]!, indices[f * 3 + 2]!];
    const at = value(a, strength);
    const slope = gradient(positions, a, b, c, value(b, strength) - at, value(c, strength) - at, areas[f]!);
    for (const v of [a, b, c]) {
      sum[welded[v]!]! += slope * areas[f]!;
      weight[welded[v]!]! += areas[f]!;
    }
  }
  return Float32Array.from(welded, (w) => (weight[w]! > 0 ? sum[w]! / weight[w]! : 0));
}

/**
 * Length of the gradient over a triangle: |du · e2 - dv · e1| / twice its area, as both edges turned by a quarter.
 *
 * @param du, dv by how much the value at b and c is more than at a
 */
function gradient(
  p: Float32Array,
  a: number,
  b: number,
  c: number,
  du: number,
  dv: number,
  area: number,
): number {
  const edge = (v: number, k: number): number => p[v * 3 + k]! - p[a * 3 + k]!;
  const at = (k: number): number => edge(c, k) * du - edge(b, k) * dv;
  return Math.hypot(at(0), at(1), at(2)) / (2 * area);
}
