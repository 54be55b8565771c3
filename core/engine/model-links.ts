import { boundsOf, ClosestPoint, diagonalOf, type MeshPlace, type UvMesh } from '../mesh';

/** A place of the old model counts as the same if it is within this part of the diagonal. */
const REACH = 0.06;

/** Finds for a place of the new model the place of the old one, part by part. */
export class ModelLinks {
  private readonly finders: readonly ClosestPoint[];
  private readonly reach: number;
  private readonly parts: readonly string[];
  private readonly missed: Float64Array;
  private readonly asked: Float64Array;

  constructor(from: UvMesh, to: UvMesh) {
    const all = Uint32Array.from({ length: from.faceParts.length }, (_, f) => f);
    const whole = new ClosestPoint(from.positions, from.indices, all);
    this.finders = to.parts.map((name) => {
      const part = from.parts.indexOf(name);
      const faces = all.filter((f) => from.faceParts[f] === part);
      return faces.length ? new ClosestPoint(from.positions, from.indices, faces) : whole;
    });
    this.reach = REACH * diagonalOf(boundsOf(from.positions));
    this.parts = to.parts;
    this.missed = new Float64Array(to.parts.length);
    this.asked = new Float64Array(to.parts.length);
  }

  find(part: number, x: number, y: number, z: number, out: MeshPlace): boolean {
    this.finders[part]!.find(x, y, z, out);
    this.asked[part]!++;
    if (out.distance <= this.reach) return true;
    this.missed[part]!++;
    return false;
  }

  /** Parts of which more than a tenth found no place. */
  unmatched(): string[] {
    return this.parts.filter((_, p) => this.missed[p]! > this.asked[p]! / 10);
  }
}
