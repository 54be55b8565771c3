import { CoreError } from '../errors';
import { centreOf, diagonalOf, faceGeometry, subjectBounds, type Mesh } from '../mesh';
import { axesOf, mainAxes, turnTo, type Symmetric3, type Vec3 } from '../math';
import type { StandIn } from './light-plan';

/** Tells a stand-in's normal at a place. */
export type StandInNormal = (x: number, y: number, z: number, out: Float64Array | number[]) => void;

/** How much of a box is round at its edges: the power of its norm. */
const BOX_POWER = 8;

/**
 * The normals of a stand-in over the whole of space, as its scaled copies through each point have them.
 *
 * @param mesh whose box its place and size are parts of
 * @returns writes a unit normal
 */
export function standInNormal(standIn: StandIn, mesh: Mesh): StandInNormal {
  const bounds = subjectBounds(mesh);
  const k = diagonalOf(bounds);
  const middle = centreOf(bounds);
  const centre = standIn.centre.map((c, i) => middle[i]! + c * k) as unknown as Vec3;
  const [hx, hy, hz] = standIn.half.map((h) => Math.max(1e-9, h * k)) as [number, number, number];
  const axes = axesOf(standIn.turn);
  // The straight part of a capsule ends where its round ends begin.
  const straight = Math.max(0, hy - Math.max(hx, hz));
  const end = Math.min(hy, Math.max(hx, hz));
  return (x, y, z, out) => {
    const d = [x - centre[0], y - centre[1], z - centre[2]];
    const [qx, qy, qz] = axes.map((a) => a[0] * d[0]! + a[1] * d[1]! + a[2] * d[2]!) as [
      number,
      number,
      number,
    ];
    let gx: number;
    let gy: number;
    let gz: number;
    switch (standIn.solid) {
      case 'ellipsoid':
        [gx, gy, gz] = [qx / (hx * hx), qy / (hy * hy), qz / (hz * hz)];
        break;
      case 'capsule': {
        const beyond = qy - Math.min(straight, Math.max(-straight, qy));
        [gx, gy, gz] = [qx / (hx * hx), beyond / (end * end), qz / (hz * hz)];
        break;
      }
      case 'box':
        [gx, gy, gz] = [side(qx / hx) / hx, side(qy / hy) / hy, side(qz / hz) / hz];
    }
    const nx = axes[0][0] * gx + axes[1][0] * gy + axes[2][0] * gz;
    const ny = axes[0][1] * gx + axes[1][1] * gy + axes[2][1] * gz;
    const nz = axes[0][2] * gx + axes[1][2] * gy + axes[2][2] * gz;
    const l = Math.hypot(nx, ny, nz);
    out[0] = l > 0 ? nx / l : 0;
    out[1] = l > 0 ? ny / l : 1;
    out[2] = l > 0 ? nz / l : 0;
  };
}

/** The slope of |t| to the power of a box's norm, but for a factor. */
const side = (t: number): number => Math.sign(t) * Math.abs(t) ** (BOX_POWER - 1);

/**
 * A solid that lies about some faces: along their main directions, weighted by area, as long as they are.
 *
 * @throws CoreError `bad-argument` if they have no area
 */
export function fitStandIn(mesh: Mesh, faces: readonly number[]): Pick<StandIn, 'centre' | 'turn' | 'half'> {
  const { positions: p, indices } = mesh;
  const { areas } = faceGeometry(mesh);
  const mean = [0, 0, 0];
  let area = 0;
  const middle = (f: number, k: number): number =>
    (p[indices[f * 3]! * 3 + k]! + p[indices[f * 3 + 1]! * 3 + k]! + p[indices[f * 3 + 2]! * 3 + k]!) / 3;
  for (const f of faces) {
    area += areas[f]!;
    for (let k = 0; k < 3; k++) mean[k]! += middle(f, k) * areas[f]!;
  }
  if (!(area > 0)) {
    throw new CoreError(
      'bad-argument',
      'There is nothing to lay a stand-in about: these faces have no area. Choose a part that can be seen.',
    );
  }
  for (let k = 0; k < 3; k++) mean[k]! /= area;
  const m = [0, 0, 0, 0, 0, 0] as [number, number, number, number, number, number];
  for (const f of faces) {
    // Corners and middle: a few large triangles spread as they are large.
    for (let c = 0; c < 4; c++) {
      const d = [0, 1, 2].map((k) => (c < 3 ? p[indices[f * 3 + c]! * 3 + k]! : middle(f, k)) - mean[k]!) as [
        number,
        number,
        number,
      ];
      const w = areas[f]! * (c < 3 ? 1 / 12 : 3 / 4);
      m[0] += w * d[0] * d[0];
      m[1] += w * d[0] * d[1];
      m[2] += w * d[0] * d[2];
      m[3] += w * d[1] * d[1];
      m[4] += w * d[1] * d[2];
      m[5] += w * d[2] * d[2];
    }
  }
  const [long, second, third] = mainAxes(m.map((x) => x / area) as unknown as Symmetric3);
  // A capsule lies along its y.
  const axes: readonly [Vec3, Vec3, Vec3] = [second, long, [-third[0], -third[1], -third[2]]];
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const f of faces) {
    for (let c = 0; c < 3; c++) {
      const v = indices[f * 3 + c]! * 3;
      axes.forEach((a, k) => {
        const t = a[0] * p[v]! + a[1] * p[v + 1]! + a[2] * p[v + 2]!;
        low[k] = Math.min(low[k]!, t);
        high[k] = Math.max(high[k]!, t);
      });
    }
  }
  const bounds = subjectBounds(mesh);
  const diagonal = diagonalOf(bounds) || 1;
  const box = centreOf(bounds);
  const mid = low.map((l, k) => (l + high[k]!) / 2);
  const centre = [0, 1, 2].map(
    (k) => (axes.reduce((sum, a, i) => sum + a[k]! * mid[i]!, 0) - box[k]!) / diagonal,
  ) as [number, number, number];
  // A flat part has no depth; a solid must.
  const half = low.map((l, k) => Math.max(1e-3, (high[k]! - l) / 2 / diagonal)) as [number, number, number];
  return { centre, turn: turnTo(axes), half };
}
