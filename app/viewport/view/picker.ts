import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { Vec3 } from '../../../core/math';
import { ClosestPoint, pieceOnSheet, sheetOfPart, type SurfacePoint, type UvMesh } from '../../../core/mesh';

/** A place on the model. */
export interface Hit {
  readonly face: number;
  readonly part: number;
  /** The sheet it lies on. */
  readonly sheet: number;
  /** As it is seen: in the pose. */
  readonly point: Vector3;
  /** Unit, smooth. */
  readonly normal: Vector3;
  /** The same place of the model at rest: where all that isn't a stroke is kept. */
  readonly rest: { readonly point: Vector3; readonly normal: Vector3 };
  readonly u: number;
  readonly v: number;
}

/** Finds the place under a ray or under a point of the sheet. */
export class Picker {
  private mesh: UvMesh;
  private solid_: MeshBVH | null;
  private pose: Pick<UvMesh, 'positions' | 'normals'> | null = null;
  private closest: ClosestPoint | null = null;
  /** The layout of each sheet that was asked for. */
  private readonly flat = new Map<number, { readonly tree: MeshBVH; readonly faces: Uint32Array } | null>();

  constructor(mesh: UvMesh) {
    this.mesh = mesh;
    this.solid_ = treeOf(mesh.positions, mesh.indices);
  }

  /** The model in another pose; null: at rest. Found again when something is looked for. */
  setPose(pose: Pick<UvMesh, 'positions' | 'normals'> | null): void {
    this.pose = pose;
    this.solid_ = null;
  }

  get shownMesh(): UvMesh {
    return this.pose ? { ...this.mesh, ...this.pose } : this.mesh;
  }

  /** Where the pose has a place of the model at rest. */
  shownAt(place: Vec3): Vector3 {
    if (!this.pose) return new Vector3(...place);
    const { positions, indices } = this.mesh;
    this.closest ??= new ClosestPoint(positions, indices);
    const on: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
    this.closest.find(...place, on);
    return this.mixed(this.pose.positions, on.face, [on.w0, on.w1, on.w2]);
  }

  private get solid(): MeshBVH {
    return (this.solid_ ??= treeOf((this.pose ?? this.mesh).positions, this.mesh.indices));
  }

  /** Another layout of the same triangles: only places on the sheet are looked for anew. */
  setLayout(mesh: UvMesh): void {
    this.mesh = mesh;
    this.flat.clear();
  }

  private layoutOf(sheet: number): { readonly tree: MeshBVH; readonly faces: Uint32Array } | null {
    const known = this.flat.get(sheet);
    if (known !== undefined) return known;
    const { mesh, faces } = pieceOnSheet(this.mesh, sheet);
    const places = new Float32Array((mesh.uvs.length / 2) * 3);
    for (let v = 0; v < mesh.uvs.length / 2; v++) {
      places[v * 3] = mesh.uvs[v * 2]!;
      places[v * 3 + 1] = mesh.uvs[v * 2 + 1]!;
    }
    const made = faces.length > 0 ? { tree: treeOf(places, mesh.indices), faces } : null;
    this.flat.set(sheet, made);
    return made;
  }

  /** @param hidden parts that rays go through */
  cast(origin: Vector3, direction: Vector3, hidden: ReadonlySet<number>): Hit | null {
    const ray = new Ray(origin, direction);
    if (hidden.size === 0) {
      const first = this.solid.raycastFirst(ray, DoubleSide);
      return first?.faceIndex == null ? null : this.hitAt(first.faceIndex, first.point);
    }
    const all = this.solid.raycast(ray, DoubleSide);
    let nearest: (typeof all)[number] | null = null;
    for (const hit of all) {
      if (hit.faceIndex == null || hidden.has(this.mesh.faceParts[hit.faceIndex]!)) continue;
      if (!nearest || hit.distance < nearest.distance) nearest = hit;
    }
    return nearest ? this.hitAt(nearest.faceIndex!, nearest.point) : null;
  }

  /** @param u from the left @param v from the bottom of the sheet */
  atSheet(sheet: number, u: number, v: number): Hit | null {
    const layout = this.layoutOf(sheet);
    const ray = new Ray(new Vector3(u, v, 1), new Vector3(0, 0, -1));
    const found = layout?.tree.raycastFirst(ray, DoubleSide);
    if (!layout || found?.faceIndex == null) return null;
    const f = layout.faces[found.faceIndex]!;
    const w = this.weights(
      f,
      (vertex, axis) => (axis < 2 ? this.mesh.uvs[vertex * 2 + axis]! : 0),
      new Vector3(u, v, 0),
    );
    return this.hitWith(f, w);
  }

  private hitAt(f: number, point: Vector3): Hit {
    return this.hitWith(
      f,
      this.weights(f, (vertex, axis) => (this.pose ?? this.mesh).positions[vertex * 3 + axis]!, point),
    );
  }

  /** Barycentric weights of a point in a triangle given by its corners' coordinates. */
  private weights(f: number, at: (vertex: number, axis: number) => number, p: Vector3): Vector3 {
    const [a, b, c] = [0, 1, 2].map((k) => {
      const v = this.mesh.indices[f * 3 + k]!;
      return new Vector3(at(v, 0), at(v, 1), at(v, 2));
    }) as [Vector3, Vector3, Vector3];
    const ab = b.clone().sub(a);
    const ac = c.clone().sub(a);
    const ap = p.clone().sub(a);
    const n = ab.clone().cross(ac);
    const area = n.lengthSq() || 1;
    const wb = ap.clone().cross(ac).dot(n) / area;
    const wc = ab.clone().cross(ap).dot(n) / area;
    return new Vector3(1 - wb - wc, wb, wc);
  }

  private hitWith(face: number, w: Vector3): Hit {
    const { mesh } = this;
    const weights = w.toArray();
    const at = (axis: number): number =>
      weights.reduce((sum, share, k) => sum + mesh.uvs[mesh.indices[face * 3 + k]! * 2 + axis]! * share, 0);
    const placeIn = ({ positions, normals }: Pick<UvMesh, 'positions' | 'normals'>): Hit['rest'] => ({
      point: this.mixed(positions, face, weights),
      normal: this.mixed(normals, face, weights).normalize(),
    });
    const rest = placeIn(mesh);
    return {
      face,
      part: mesh.faceParts[face]!,
      sheet: sheetOfPart(mesh, mesh.faceParts[face]!),
      ...(this.pose ? placeIn(this.pose) : rest),
      rest,
      u: at(0),
      v: at(1),
    };
  }

  /** What vertices have, xyz each, at a place of a triangle. */
  private mixed(data: Float32Array, face: number, weights: readonly number[]): Vector3 {
    const out = new Vector3();
    weights.forEach((w, k) => {
      const v = this.mesh.indices[face * 3 + k]! * 3;
      out.addScaledVector(new Vector3(data[v], data[v + 1], data[v + 2]), w);
    });
    return out;
  }
}

function treeOf(positions: Float32Array, indices: Uint32Array): MeshBVH {
  const geometry = new BufferGeometry()
    .setAttribute('position', new BufferAttribute(positions, 3))
    // The tree sorts its index; the mesh keeps its own.
    .setIndex(new BufferAttribute(indices.slice(), 1));
  return new MeshBVH(geometry, { indirect: true });
}
