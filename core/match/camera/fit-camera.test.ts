import { describe, expect, it } from 'vitest';
import { CoreError } from '../../errors';
import { length, seededRandom, sub, type Vec3 } from '../../math';
import { axesOf, fitCamera, projection, rayThrough, type MatchCamera, type PointPair } from '..';

const random = seededRandom(11);
const between = (a: number, b: number): number => a + (b - a) * random();
const place = (): Vec3 => [between(-1, 1), between(-1, 1), between(-1, 1)];

/** A camera that sees a box of places whole, from anywhere. */
function anyCamera(shifted = false): MatchCamera {
  const fovY = between(12, 70);
  const distance = (1.9 / Math.tan((fovY * Math.PI) / 360)) * between(1, 1.6);
  const [a, e] = [between(-Math.PI, Math.PI), between(-1.2, 1.2)];
  const target: Vec3 = [between(-0.3, 0.3), between(-0.3, 0.3), between(-0.3, 0.3)];
  return {
    position: [
      target[0] + Math.sin(a) * Math.cos(e) * distance,
      target[1] + Math.sin(e) * distance,
      target[2] + Math.cos(a) * Math.cos(e) * distance,
    ],
    target,
    up: [between(-0.2, 0.2), 1, between(-0.2, 0.2)],
    fovY,
    shift: shifted ? [between(-0.1, 0.1), between(-0.1, 0.1)] : [0, 0],
    width: 800,
    height: 1000,
  };
}

const pairsOf = (camera: MatchCamera, count: number, noise = 0): PointPair[] => {
  const see = projection(camera);
  return Array.from({ length: count }, () => {
    const model = place();
    const { x, y } = see(model);
    return { model, picture: [x + between(-noise, noise), y + between(-noise, noise)] as const };
  });
};
const size = { width: 800, height: 1000 };

describe('a camera', () => {
  it('sees along a ray what that ray goes through', () => {
    for (let i = 0; i < 50; i++) {
      const camera = anyCamera(true);
      const [x, y] = [between(0, 800), between(0, 1000)];
      const way = rayThrough(camera, x, y);
      const k = between(0.5, 5);
      const seen = projection(camera)(camera.position.map((p, c) => p + way[c]! * k) as unknown as Vec3);
      expect(seen.x).toBeCloseTo(x, 6);
      expect(seen.y).toBeCloseTo(y, 6);
      expect(seen.depth).toBeCloseTo(k, 9);
    }
  });

  // Synthetic views, recovered from exact pairs: the true camera is known.
  it('is recovered from exact pairs to a millionth, 500 of them from all around', () => {
    let missed = 0;
    for (let i = 0; i < 500; i++) {
      const truth = anyCamera(i % 2 === 0);
      const { camera, residuals } = fitCamera(pairsOf(truth, 8 + (i % 5)), { ...size, shifted: i % 2 === 0 });
      const far = length(sub(truth.position, truth.target));
      const isRight =
        Math.max(...residuals) < 1e-4 &&
        length(sub(camera.position, truth.position)) < 1e-6 * far * 100 &&
        Math.abs(camera.fovY - truth.fovY) < 1e-4;
      if (!isRight) missed++;
    }
    expect(missed).toBe(0);
  });

  it('four or five pairs do, where they are exact', () => {
    for (let i = 0; i < 40; i++) {
      const truth = anyCamera();
      const { residuals } = fitCamera(pairsOf(truth, 5), size);
      expect(Math.max(...residuals)).toBeLessThan(1e-3);
    }
  });

  it('is near from pairs that a hand has set, and says which is farthest off', () => {
    for (let i = 0; i < 30; i++) {
      const truth = anyCamera();
      const { camera, residuals, worst } = fitCamera(pairsOf(truth, 10, 1.5), size);
      expect(Math.max(...residuals)).toBeLessThan(4);
      expect(residuals[worst]).toBe(Math.max(...residuals));
      const [a, b] = [axesOf(camera).back, axesOf(truth).back];
      expect(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]).toBeGreaterThan(Math.cos((4 * Math.PI) / 180));
    }
  });

  it('leaves out one pair that is wrong', () => {
    for (let i = 0; i < 9; i++) {
      const truth = anyCamera();
      const pairs = pairsOf(truth, 9, 0.5);
      const wrong = i % 9;
      const [x, y] = pairs[wrong]!.picture;
      const mixed = pairs.with(wrong, { model: pairs[wrong]!.model, picture: [x + 140, y - 90] });
      const { leftOut, residuals } = fitCamera(mixed, size);
      expect(leftOut).toBe(wrong);
      expect(Math.max(...residuals.filter((_, k) => k !== wrong))).toBeLessThan(3);
    }
  });

  it('tells a picture that is seen in a mirror from pairs that are merely wrong', () => {
    let told = 0;
    for (let i = 0; i < 3; i++) {
      const pairs = pairsOf(anyCamera(), 8, 0.5);
      const turned = pairs.map(({ model, picture: [x, y] }) => ({
        model,
        picture: [size.width - x, y] as [number, number],
      }));
      expect(fitCamera(pairs, size).isMirrored).toBe(false);
      if (fitCamera(turned, size).isMirrored) told++;
      const mixed = pairs.map(({ model }, k) => ({ model, picture: pairs[(k + 3) % 8]!.picture }));
      expect(fitCamera(mixed, size).isMirrored).toBe(false);
    }
    // From afar, near and far can hardly be told apart, so that seen from the other side a mirrored model looks nearly right.
    expect(told).toBeGreaterThanOrEqual(2);
  });

  it('is refused in a sentence from too few pairs, a plane, a line, or what is no number', () => {
    const pairs = pairsOf(anyCamera(), 6);
    const told = (list: readonly PointPair[], lens = false): string => {
      try {
        fitCamera(list, { ...size, lens });
      } catch (error) {
        if (error instanceof CoreError && error.code === 'bad-argument') return error.message;
        throw error;
      }
      return '';
    };
    expect(told(pairs.slice(0, 3))).toMatch(/needs 4 pairs/);
    expect(told(pairs.slice(0, 5), true)).toMatch(/takes 6 pairs/);
    expect(told(pairs.map((p) => ({ ...p, model: [p.model[0], 0, p.model[2]] })))).toMatch(/in one plane/);
    expect(told(pairs.map((p, i) => ({ ...p, picture: [i, 2 * i] })))).toMatch(/on one line/);
    expect(told([{ ...pairs[0]!, picture: [NaN, 1] }, ...pairs.slice(1)])).toMatch(/not a number/);
  });
});
