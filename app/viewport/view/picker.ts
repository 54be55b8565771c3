import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { pieceOnSheet, sheetOfPart, type UvMesh } from '../../../core/mesh';

/** A place on the model. */
export interface Hit {
  readonly face: number;
  readonly part: number;
  /** The sheet it lies on. */
  readonly sheet: number;
  readonly point: Vector3;
  /** Unit, smooth. */
  readonly normal: Vector3;
  readonly u: number;
  readonly v: number;
}

/** Finds the place under a ray or under a point of the sheet. */
export class Picker {
  private mesh: UvMesh;
  private readonly solid: MeshBVH;
  /** The layout of each sheet that was asked for. */
  private readonly flat = new Map<number, { readonly tree: MeshBVH; readonly faces: Uint32Array } | null>();

  constructor(mesh: UvMesh) {
    this.mesh = mesh;
    this.solid = treeOf(mesh.positions, mesh.indices);
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
      this.weights(f, (vertex, axis) => this.mesh.positions[vertex * 3 + axis]!, point),
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
    const ids = [0, 1, 2].map((k) => mesh.indices[face * 3 + k]!) as [number, number, number];
    const weights = w.toArray();
    const mixed = (data: Float32Array, stride: number, axis: number): number =>
      ids.reduce((sum, v, k) => sum + data[v * stride + axis]! * weights[k]!, 0);
    return {
      face,
      part: mesh.faceParts[face]!,
      sheet: sheetOfPart(mesh, mesh.faceParts[face]!),
      point: new Vector3(
        mixed(mesh.positions, 3, 0),
        mixed(mesh.positions, 3, 1),
        mixed(mesh.positions, 3, 2),
      ),
      normal: new Vector3(
        mixed(mesh.normals, 3, 0),
        mixed(mesh.normals, 3, 1),
        mixed(mesh.normals, 3, 2),
      ).normalize(),
      u: mixed(mesh.uvs, 2, 0),
      v: mixed(mesh.uvs, 2, 1),
    };
  }
}

function treeOf(positions: Float32Array, indices: Uint32Array): MeshBVH {
  const geometry = new BufferGeometry()
    .setAttribute('position', new BufferAttribute(positions, 3))
    // The tree sorts its index; the mesh keeps its own.
    .setIndex(new BufferAttribute(indices.slice(), 1));
  return new MeshBVH(geometry, { indirect: true });
}
