import type { Placing } from '../math';
import { NO_ORIGIN, weldPlaces, type Mesh } from '../mesh';
import type { Motion } from './motion';
import { poseVertices, REST, type Pose } from './pose';

/** A model as a pose shows it. */
export interface PosedForm {
  /** xyz a vertex, model space. */
  readonly positions: Float32Array;
  /** Turns normals, unit xyz a vertex of the model at rest, as the surface around each vertex is turned. */
  turn(normals: Float32Array): Float32Array;
}

/** Brings a model into poses of the file that it was read from. Vertices that don't come from there stay where they are. */
export class Poser {
  private readonly mesh: Mesh;
  private readonly motion: Motion;
  /** The linear part of what takes the file to the model, row by row. */
  private readonly linear: readonly number[];
  private readonly rest: Float32Array;
  private welded: Uint32Array | null = null;

  /** @param placing takes places of the file to the model; null: they are the same */
  constructor(mesh: Mesh, motion: Motion, placing: Placing | null) {
    this.mesh = mesh;
    this.motion = motion;
    const p = placing ?? [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];
    this.linear = [0, 1, 2, 4, 5, 6, 8, 9, 10].map((i) => p[i]!);
    this.rest = poseVertices(motion, REST).positions;
  }

  pose(pose: Pose): PosedForm {
    const positions = this.moved(poseVertices(this.motion, pose).positions);
    let turns: Float64Array | null = null;
    return {
      positions,
      turn: (normals) => turned(normals, (turns ??= this.turns(positions)), this.welds()),
    };
  }

  /** Where vertices are by how far the file's have gone. */
  private moved(posed: Float32Array): Float32Array {
    const { mesh, rest, linear: l } = this;
    const out = mesh.positions.slice();
    const { origins } = mesh;
    if (!origins) return out;
    for (let v = 0; v < out.length / 3; v++) {
      let [dx, dy, dz] = [0, 0, 0];
      for (let k = v * 3; k < v * 3 + 3; k++) {
        const from = origins.from[k]! * 3;
        const weight = origins.weights[k]!;
        if (origins.from[k] === NO_ORIGIN || weight === 0) continue;
        dx += (posed[from]! - rest[from]!) * weight;
        dy += (posed[from + 1]! - rest[from + 1]!) * weight;
        dz += (posed[from + 2]! - rest[from + 2]!) * weight;
      }
      for (let r = 0; r < 3; r++) out[v * 3 + r]! += l[r * 3]! * dx + l[r * 3 + 1]! * dy + l[r * 3 + 2]! * dz;
    }
    return out;
  }

  private welds(): Uint32Array {
    return (this.welded ??= weldPlaces(this.mesh.positions));
  }

  /**
   * What turns the normals at each place: over the triangles there, the cofactors of what takes each of them, with its unit normal, to where
   * the pose has it, weighed by their areas. 9 numbers a place, row by row.
   */
  private turns(posed: Float32Array): Float64Array {
    const { positions: rest, indices } = this.mesh;
    const welds = this.welds();
    const out = new Float64Array(rest.length * 3);
    const before = new Float64Array(12);
    const after = new Float64Array(12);
    const w = new Float64Array(9);
    for (let c = 0; c < indices.length; c += 3) {
      frame(rest, indices, c, before);
      if (!frame(posed, indices, c, after)) continue;
      for (let r = 0; r < 3; r++) {
        const [s, t] = [(r + 1) % 3, (r + 2) % 3];
        // Of three vectors a, b and the unit normal n: b × n, n × a, a × b.
        const bn = after[3 + s]! * after[6 + t]! - after[3 + t]! * after[6 + s]!;
        const na = after[6 + s]! * after[t]! - after[6 + t]! * after[s]!;
        const ab = after[9 + r]!;
        for (let k = 0; k < 3; k++)
          w[r * 3 + k] = bn * before[k]! + na * before[3 + k]! + ab * before[6 + k]!;
      }
      for (let k = 0; k < 3; k++) {
        const o = welds[indices[c + k]!]! * 9;
        for (let i = 0; i < 9; i++) out[o + i]! += w[i]!;
      }
    }
    return out;
  }
}

/** Two edges of a triangle, its unit normal and the normal as long as their product. @returns false where it has no area */
function frame(p: Float32Array, indices: Uint32Array, c: number, out: Float64Array): boolean {
  const [a, b, d] = [indices[c]! * 3, indices[c + 1]! * 3, indices[c + 2]! * 3];
  for (let k = 0; k < 3; k++) {
    out[k] = p[b + k]! - p[a + k]!;
    out[3 + k] = p[d + k]! - p[a + k]!;
  }
  for (let r = 0; r < 3; r++) {
    const [s, t] = [(r + 1) % 3, (r + 2) % 3];
    out[9 + r] = out[s]! * out[3 + t]! - out[t]! * out[3 + s]!;
  }
  const length = Math.sqrt(out[9]! ** 2 + out[10]! ** 2 + out[11]! ** 2);
  for (let r = 0; r < 3; r++) out[6 + r] = length > 0 ? out[9 + r]! / length : 0;
  return length > 0;
}

/** Normals that have no area around them stay as they are. */
function turned(normals: Float32Array, turns: Float64Array, welds: Uint32Array): Float32Array {
  const out = normals.slice();
  for (let v = 0; v < welds.length; v++) {
    const [m, o] = [welds[v]! * 9, v * 3];
    const [x, y, z] = [normals[o]!, normals[o + 1]!, normals[o + 2]!];
    const [u, t, w] = [0, 3, 6].map((r) => turns[m + r]! * x + turns[m + r + 1]! * y + turns[m + r + 2]! * z);
    const length = Math.sqrt(u! * u! + t! * t! + w! * w!);
    if (!(length > 0)) continue;
    out[o] = u! / length;
    out[o + 1] = t! / length;
    out[o + 2] = w! / length;
  }
  return out;
}
