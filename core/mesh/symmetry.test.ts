import { describe, expect, it } from 'vitest';
import { ball } from '../../tests/shapes';
import { cross, dot, normalize, seededRandom, type Vec3 } from '../math';
import { mainSymmetry, symmetryPlanes, turningAxis, type Mesh } from '.';

type Shape = Pick<Mesh, 'positions' | 'indices'>;

const together = (...shapes: readonly Shape[]): Shape => {
  const positions: number[] = [];
  const indices: number[] = [];
  for (const shape of shapes) {
    const first = positions.length / 3;
    positions.push(...shape.positions);
    indices.push(...[...shape.indices].map((v) => v + first));
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
};

/** A creature that is its own mirror image over one plane only: a body with ears, a nose and a tail. */
const creature = (): Shape => {
  return together(
    ball(14, 8, 1, [0, 0, 0]),
    ball(10, 6, 0.5, [0, 0.9, 0.5]),
    ball(8, 5, 0.25, [0.45, 1.3, 0.4]),
    ball(8, 5, 0.25, [-0.45, 1.3, 0.4]),
    ball(8, 5, 0.3, [0, -0.3, -1.2]),
  );
};

/** Turned by three angles and moved, each vertex shaken by so much. */
function turned(mesh: Shape, random: () => number, noise: number) {
  const z = normalize([random() - 0.5, random() - 0.5, random() - 0.5]);
  const x = normalize(cross(z, [random() - 0.5, random() - 0.5, random() - 0.5]));
  const y = cross(z, x);
  const shift = [random() * 4, random() * 4, random() * 4];
  const positions = mesh.positions.slice();
  for (let v = 0; v < positions.length; v += 3) {
    const p = [positions[v]!, positions[v + 1]!, positions[v + 2]!] as const;
    for (let k = 0; k < 3; k++)
      positions[v + k] =
        p[0] * x[k]! + p[1] * y[k]! + p[2] * z[k]! + shift[k]! + (random() - 0.5) * 2 * noise;
  }
  return { mesh: { positions, indices: mesh.indices }, normal: x };
}

const degrees = (a: Vec3, b: Vec3): number => (Math.acos(Math.min(1, Math.abs(dot(a, b)))) * 180) / Math.PI;

describe('planes of symmetry', () => {
  // The plane is known, for the model was made from it: no library is needed to check.
  it('are found within half a degree on 50 turned and shaken models', () => {
    const random = seededRandom(3);
    const worst = Array.from({ length: 50 }, () => {
      const { mesh, normal } = turned(creature(), random, 0.01);
      const plane = mainSymmetry(symmetryPlanes(mesh));
      return plane ? degrees(plane.normal, normal) : 90;
    }).reduce((a, b) => Math.max(a, b));
    expect(worst).toBeLessThan(0.5);
  });

  it('hold though one side is a little broken', () => {
    const mesh = together(creature(), ball(8, 5, 0.12, [0.9, 0.3, 0.3]));
    expect(degrees(mainSymmetry(symmetryPlanes(mesh))!.normal, [1, 0, 0])).toBeLessThan(0.5);
  });

  it('are none where there is none, and of several the one between left and right is the main one', () => {
    const odd = together(
      ball(14, 8, 1, [0, 0, 0]),
      ball(12, 7, 0.6, [1.2, 0.4, 0.1]),
      ball(12, 7, 0.5, [-0.3, 1.3, 0.5]),
      ball(12, 7, 0.4, [0.4, -0.2, 1.4]),
    );
    expect(symmetryPlanes(odd)).toEqual([]);
    const both = together(
      ball(16, 8, 1, [0, 0, 0]),
      ball(12, 6, 0.4, [1.2, 0, 0]),
      ball(12, 6, 0.4, [-1.2, 0, 0]),
    );
    expect(Math.abs(mainSymmetry(symmetryPlanes(both))!.normal[0])).toBeGreaterThan(0.999);
  });

  it('of a turned shape meet in its axis', () => {
    const pot = together(ball(32, 12, 1, [0, 0, 0]), ball(32, 12, 0.5, [0, 1.2, 0]));
    const axis = turningAxis(symmetryPlanes(pot));
    expect(Math.abs(axis!.direction[1])).toBeGreaterThan(0.999);
    expect(turningAxis(symmetryPlanes(creature()))).toBeNull();
  });
});
