import { ClosestPoint, subjectDiagonal, type SurfacePoint, type UvMesh } from '../mesh';
import { IDENTITY, type Placing } from '../math';

/** A place of the old model counts as the same if it is within this part of the diagonal. */
const REACH = 0.06;

/** Finds for a place of the new model the place of the old one, part by part. */
export class ModelLinks {
  private readonly finders: readonly ClosestPoint[];
  private readonly reach: number;
  private readonly parts: readonly string[];
  private readonly placing: Placing;
  private readonly missed: Float64Array;
  private readonly asked: Float64Array;

  /** @param placing takes the new model to where the old one stands */
  constructor(from: UvMesh, to: UvMesh, placing: Placing = IDENTITY) {
    const all = Uint32Array.from({ length: from.faceParts.length }, (_, f) => f);
    const whole = new ClosestPoint(from.positions, from.indices, all);
    this.finders = to.parts.map((name) => {
      const part = from.parts.indexOf(name);
      const faces = all.filter((f) => from.faceParts[f] === part);
      return faces.length ? new ClosestPoint(from.positions, from.indices, faces) : whole;
    });
    this.reach = REACH * subjectDiagonal(from);
    this.parts = to.parts;
    this.placing = placing;
    this.missed = new Float64Array(to.parts.length);
    this.asked = new Float64Array(to.parts.length);
  }

  /** The nearest place on the other model’s same part. @param out receives it @returns false if it is out of reach */
  find(part: number, x: number, y: number, z: number, out: SurfacePoint): boolean {
    const p = this.placing;
    const at = (row: number): number => p[row]! * x + p[row + 1]! * y + p[row + 2]! * z + p[row + 3]!;
    this.finders[part]!.find(at(0), at(4), at(8), out);
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
