import { describe, expect, it } from 'vitest';
import { ball, together } from '../../../tests/shapes';
import type { UvMesh } from '../../mesh';
import { bendsOf, bendWords, projection, seeModel, type BendInput, type MatchCamera } from '..';

/** Next to no perspective: a pixel is a hundredth of a unit everywhere. */
const CAMERA: MatchCamera = {
  position: [0, 0, 400],
  target: [0, 0, 0],
  up: [0, 1, 0],
  fovY: (2 * Math.atan(2 / 400) * 180) / Math.PI,
  shift: [0, 0],
  width: 600,
  height: 400,
};

/** A ball as a part of its own, each axis scaled, turned about z, and moved. */
function egg(part: string, size: readonly [number, number], turn: number, at: readonly [number, number]) {
  const mesh = ball(32, 24);
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const positions = mesh.positions.slice();
  for (let v = 0; v < positions.length; v += 3) {
    const [x, y] = [positions[v]! * size[0], positions[v + 1]! * size[1]];
    positions[v] = c * x - s * y + at[0];
    positions[v + 1] = s * x + c * y + at[1];
  }
  return { ...mesh, positions, parts: [part] };
}

const covered = (mesh: UvMesh): Uint8Array =>
  Uint8Array.from(seeModel(mesh, CAMERA).faces, (f) => (f >= 0 ? 1 : 0));

const model = together(egg('Head', [0.9, 0.7], 0, [-1.4, 0.5]), egg('Hand', [0.6, 0.9], 0, [1.5, 0]));

function bends(mask: Uint8Array, more: Partial<BendInput> = {}) {
  const seen = seeModel(model, CAMERA);
  return bendsOf({ mesh: model, camera: CAMERA, seen, mask, partMask: null, pairs: [], ...more });
}

describe('what a drawing bends', () => {
  it('is nothing where it bends nothing', () => {
    for (const bend of bends(covered(model))) {
      expect(Math.hypot(...bend.move)).toBeLessThan(0.05);
      expect(Math.abs(bend.wider) + Math.abs(bend.taller)).toBeLessThan(0.2);
      expect(bendWords(bend)).toBe('');
    }
  });

  // What the drawing does to an ellipse without perspective is told by arithmetic.
  it('is told by outlines: moved, wider and taller', () => {
    const drawn = together(egg('Head', [0.99, 0.7], 0, [-1.44, 0.56]), egg('Hand', [0.6, 0.81], 0, [1.5, 0]));
    const found = bends(covered(drawn));
    const head = found.find((b) => b.part === 'Head')!;
    const hand = found.find((b) => b.part === 'Hand')!;
    expect(head.wider).toBeCloseTo(10, 0);
    expect(Math.abs(head.taller)).toBeLessThan(0.6);
    // 0.04 of 4 units' height to the left, 0.06 up.
    expect(head.move[0]).toBeCloseTo(-1, 1);
    expect(head.move[1]).toBeCloseTo(1.5, 1);
    expect(hand.taller).toBeCloseTo(-10, 0);
    expect(Math.hypot(...hand.move)).toBeLessThan(0.1);
    expect(found[0]).toBe(head);
    expect(bendWords(hand)).toMatch(/^(9\.\d|10) % shorter$/);
    // Each arrow ends where the drawing has the place that it begins at.
    for (const { from, to } of head.arrows) {
      expect(to[0]).toBeCloseTo(300 + (((from[0] - 300) / 100 + 1.4) * 1.1 - 1.44) * 100, -0.3);
      expect(to[1]).toBeCloseTo(from[1] - 6, -0.3);
    }
  });

  it('is told by outlines: turned', () => {
    const drawn = together(
      egg('Head', [0.9, 0.7], 0, [-1.4, 0.5]),
      egg('Hand', [0.6, 0.9], (6 * Math.PI) / 180, [1.5, 0]),
    );
    const hand = bends(covered(drawn)).find((b) => b.part === 'Hand')!;
    expect(hand.turn).toBeGreaterThan(4.5);
    expect(hand.turn).toBeLessThan(6.5);
    expect(bendWords(hand)).toContain('against the clock');
  });

  it('is told by pairs alone, each for the part on which it lies', () => {
    const see = projection(CAMERA);
    const place = (x: number, y: number) => {
      const z = Math.sqrt(1 - ((x + 1.4) / 0.9) ** 2 - ((y - 0.5) / 0.7) ** 2);
      const at = see([x, y, z]);
      // Drawn a twentieth wider about the head's middle.
      const middle = see([-1.4, 0.5, 0]).x;
      return {
        model: [x, y, z] as [number, number, number],
        picture: [middle + (at.x - middle) * 1.05, at.y] as [number, number],
      };
    };
    const pairs = [place(-1.8, 0.5), place(-1, 0.4), place(-1.4, 0.9), place(-1.3, 0.1)];
    const found = bends(new Uint8Array(CAMERA.width * CAMERA.height), { pairs });
    expect(found.map((b) => b.part)).toEqual(['Head']);
    // Held a little toward none.
    expect(found[0]!.wider).toBeGreaterThan(4.9);
    expect(found[0]!.wider).toBeLessThan(5.02);
    expect(Math.abs(found[0]!.taller)).toBeLessThan(0.1);
  });

  it('is told by a part’s own outline where the picture’s parts are masked', () => {
    const near = together(egg('Head', [0.9, 0.7], 0, [-0.4, 0]), egg('Hand', [0.6, 0.9], 0, [0.4, 0]));
    const drawn = together(egg('Head', [0.9, 0.7], 0, [-0.44, 0]), egg('Hand', [0.6, 0.9], 0, [0.4, 0]));
    const seen = seeModel(near, CAMERA);
    const there = seeModel(drawn, CAMERA);
    const partMask = Int16Array.from(there.faces, (f) => (f < 0 ? -1 : drawn.faceParts[f]!));
    const found = bendsOf({
      mesh: near,
      camera: CAMERA,
      seen,
      mask: covered(drawn),
      partMask,
      pairs: [],
    });
    expect(found.find((b) => b.part === 'Head')!.move[0]).toBeLessThan(-0.5);
    expect(Math.abs(found.find((b) => b.part === 'Hand')!.move[0])).toBeLessThan(0.4);
  });
});
