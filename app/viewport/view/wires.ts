import type { UvMesh } from '../../../core/mesh';
import { topologyFor } from '../../shared/layout-store';
import type { Segments } from '../gl/segment-mesh';

/** What the lines' shader calls the edges of the triangles. */
const WIRE = 4;

/** Every edge of the model once. */
export function wiresOf(mesh: UvMesh): Segments {
  const { edges } = topologyFor(mesh);
  const count = edges.ends.length / 2;
  const points = new Float32Array(count * 6);
  for (let e = 0; e < count * 2; e++) {
    const v = edges.ends[e]! * 3;
    points.set(mesh.positions.subarray(v, v + 3), e * 3);
  }
  return { points, kinds: new Float32Array(count).fill(WIRE) };
}
