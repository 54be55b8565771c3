import { subjectDiagonal, type Mesh } from '../mesh';
import { calmNormals } from './calm-normals';
import type { LightPlan } from './light-plan';
import { standInNormal } from './stand-ins';

/**
 * A mesh's normals as a light plan sees them: evened out, and with those of its stand-ins in their place. An engine that lights the
 * model by them has the same calm light.
 *
 * @param facesOf the triangles of a region by its id; empty if it isn't there
 * @returns unit xyz a vertex
 */
export function plannedNormals(
  mesh: Mesh,
  plan: Pick<LightPlan, 'calm' | 'standIns'>,
  facesOf: (region: number) => readonly number[],
): Float32Array {
  const out = calmNormals(mesh, plan.calm * subjectDiagonal(mesh)).slice();
  const { indices, positions, faceParts, parts } = mesh;
  const n = [0, 0, 0];
  for (const standIn of plan.standIns) {
    const { of } = standIn;
    const part = 'part' in of ? parts.indexOf(of.part) : -1;
    const faces =
      'region' in of ? facesOf(of.region) : [...faceParts.keys()].filter((f) => faceParts[f] === part);
    const normal = standInNormal(standIn, mesh);
    for (const v of new Set(faces.flatMap((f) => [...indices.subarray(f * 3, f * 3 + 3)]))) {
      normal(positions[v * 3]!, positions[v * 3 + 1]!, positions[v * 3 + 2]!, n);
      const mixed = n.map((x, k) => out[v * 3 + k]! * (1 - standIn.blend) + x * standIn.blend);
      const l = Math.hypot(...mixed);
      if (l > 0) mixed.forEach((x, k) => (out[v * 3 + k] = x / l));
    }
  }
  return out;
}
