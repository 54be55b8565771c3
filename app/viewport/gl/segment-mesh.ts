import {
  BufferAttribute,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  Mesh,
  type RawShaderMaterial,
} from 'three';

/** Lines on the model. */
export interface Segments {
  /** Two points xyz a line. */
  readonly points: Float32Array;
  /** What each line is; see ModelLines. */
  readonly kinds: Float32Array;
}

export type SegmentMesh = Mesh<InstancedBufferGeometry, RawShaderMaterial>;

/** A quad for each line. */
export function segmentMesh(material: RawShaderMaterial, { points, kinds }: Segments): SegmentMesh {
  const geometry = new InstancedBufferGeometry();
  const corners = new Float32Array([0, -1, 0, 1, -1, 0, 1, 1, 0, 0, 1, 0]);
  geometry.setAttribute('position', new BufferAttribute(corners, 3));
  geometry.setIndex([0, 1, 2, 0, 2, 3]);
  const from = new Float32Array(kinds.length * 3);
  const to = new Float32Array(kinds.length * 3);
  for (let i = 0; i < kinds.length; i++) {
    from.set(points.subarray(i * 6, i * 6 + 3), i * 3);
    to.set(points.subarray(i * 6 + 3, i * 6 + 6), i * 3);
  }
  geometry.setAttribute('from', new InstancedBufferAttribute(from, 3));
  geometry.setAttribute('to', new InstancedBufferAttribute(to, 3));
  geometry.setAttribute('kind', new InstancedBufferAttribute(kinds, 1));
  geometry.instanceCount = kinds.length;
  const mesh = new Mesh(geometry, material);
  mesh.frustumCulled = false;
  return mesh;
}
