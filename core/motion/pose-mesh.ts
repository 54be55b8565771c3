import { placed, placeDirection, type Placing } from '../math';
import { unitNormals, smoothNormals, weldExact, type Mesh } from '../mesh';
import type { PosedVertices } from './pose';

/**
 * A mesh whose vertices stand where a pose takes those of the file that they come from; backdrops stay. Vertices that were put elsewhere
 * since the file was read stand as far from it in the pose.
 *
 * @param rest the file as it stands @param posed the same in the pose
 * @param placing what was done to the model when it came in
 */
export function poseMesh<M extends Mesh>(
  mesh: M,
  rest: PosedVertices,
  posed: PosedVertices,
  placing: Placing | null,
): M {
  const { origins } = mesh;
  if (!origins) return mesh;
  const positions = mesh.positions.slice();
  const normals = mesh.normals.slice();
  const known = rest.positions.length / 3;
  const mix = [0, 0, 0] as [number, number, number];
  /** The origins of a vertex, mixed. */
  const mixed = (of: Float32Array, v: number): [number, number, number] => {
    mix.fill(0);
    for (let k = v * 3; k < v * 3 + 3; k++) {
      const weight = origins.weights[k]!;
      const from = origins.from[k]! * 3;
      if (weight > 0) for (let i = 0; i < 3; i++) mix[i]! += of[from + i]! * weight;
    }
    return mix;
  };
  for (let v = 0; v < positions.length / 3; v++) {
    if (origins.from[v * 3]! >= known) continue;
    const [x, y, z] = placing ? placed(mixed(rest.positions, v), placing) : mixed(rest.positions, v);
    const [px, py, pz] = placing ? placed(mixed(posed.positions, v), placing) : mixed(posed.positions, v);
    positions[v * 3]! += px - x;
    positions[v * 3 + 1]! += py - y;
    positions[v * 3 + 2]! += pz - z;
    const normal = mixed(posed.normals, v);
    // Normals that the file hasn't got are made of what stands there.
    const isGiven = Math.hypot(...normal) > 0;
    normals.set(placing && isGiven ? placeDirection(normal, placing) : normal, v * 3);
  }
  const make = (): Float32Array =>
    smoothNormals(positions, mesh.indices, weldExact({ data: positions, stride: 3 }));
  return { ...mesh, positions, normals: unitNormals(normals, make) };
}
