import { centreOf, diagonalOf, subjectBounds, type Mesh } from '../mesh';
import { axesOf, type Vec3 } from '../math';
import type { StandIn } from './light-plan';

/** Points of a circle. */
const ROUND = 48;

type Line = readonly Vec3[];

/** Where a stand-in stands, model units. */
export interface StandInFrame {
  readonly centre: Vec3;
  /** Its own axes, unit, and how far it reaches along each. */
  readonly axes: readonly [Vec3, Vec3, Vec3];
  readonly half: Vec3;
}

/** A stand-in's place on a model. @param mesh whose box its place and size are parts of */
export function standInFrame(standIn: StandIn, mesh: Mesh): StandInFrame {
  const bounds = subjectBounds(mesh);
  const k = diagonalOf(bounds);
  const middle = centreOf(bounds);
  return {
    centre: standIn.centre.map((c, i) => middle[i]! + c * k) as unknown as Vec3,
    axes: axesOf(standIn.turn),
    half: standIn.half.map((h) => h * k) as unknown as Vec3,
  };
}

/** Lines on a stand-in's surface by which it is seen, model units. */
export function standInLines(standIn: StandIn, mesh: Mesh): Line[] {
  const { centre, axes, half } = standInFrame(standIn, mesh);
  const at = (x: number, y: number, z: number): Vec3 =>
    [0, 1, 2].map((k) => centre[k]! + axes[0][k]! * x + axes[1][k]! * y + axes[2][k]! * z) as unknown as Vec3;
  const [hx, hy, hz] = half;
  const circle = (of: (cos: number, sin: number) => Vec3): Line =>
    Array.from({ length: ROUND + 1 }, (_, i) => {
      const a = (i / ROUND) * 2 * Math.PI;
      return of(Math.cos(a), Math.sin(a));
    });
  switch (standIn.solid) {
    case 'ellipsoid':
      return [
        circle((c, s) => at(hx * c, hy * s, 0)),
        circle((c, s) => at(0, hy * c, hz * s)),
        circle((c, s) => at(hx * c, 0, hz * s)),
      ];
    case 'capsule': {
      const straight = Math.max(0, hy - Math.max(hx, hz));
      const end = Math.min(hy, Math.max(hx, hz));
      const along = (s: number): number => Math.sign(s) * straight + end * s;
      return [
        circle((c, s) => at(hx * c, along(s), 0)),
        circle((c, s) => at(0, along(s), hz * c)),
        circle((c, s) => at(hx * c, straight, hz * s)),
        circle((c, s) => at(hx * c, -straight, hz * s)),
      ];
    }
    case 'box': {
      const ring = (z: number): Line =>
        (
          [
            [-1, -1],
            [1, -1],
            [1, 1],
            [-1, 1],
            [-1, -1],
          ] as const
        ).map(([x, y]) => at(hx * x, hy * y, z));
      const posts = (
        [
          [-1, -1],
          [1, -1],
          [1, 1],
          [-1, 1],
        ] as const
      ).map(([x, y]) => [at(hx * x, hy * y, -hz), at(hx * x, hy * y, hz)]);
      return [ring(-hz), ring(hz), ...posts];
    }
  }
}
