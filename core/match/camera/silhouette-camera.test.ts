import { describe, expect, it } from 'vitest';
import { ball, quads, together, type Quad } from '../../../tests/shapes';
import { seededRandom, normalize, type Vec3 } from '../../math';
import type { UvMesh } from '../../mesh';
import {
  findBySilhouette,
  fitCamera,
  projection,
  rayThrough,
  refineBySilhouette,
  seeModel,
  type MatchCamera,
} from '..';

const FRONT: MatchCamera = {
  position: [0, 0, 6],
  target: [0, 0, 0],
  up: [0, 1, 0],
  fovY: 30,
  shift: [0, 0],
  width: 300,
  height: 300,
};
const FOCAL = 150 / Math.tan((15 * Math.PI) / 180);

const covered = (mesh: UvMesh, camera: MatchCamera): Uint8Array =>
  Uint8Array.from(seeModel(mesh, camera).faces, (f) => (f >= 0 ? 1 : 0));
const pixels = (mask: Uint8Array): number => mask.reduce((n, m) => n + m, 0);

/** A box about the middle. */
function box(x: number, y: number, z: number, part = 'Box'): UvMesh {
  const corner = (k: number): Vec3 => [k & 1 ? x : -x, k & 2 ? y : -y, k & 4 ? z : -z];
  const sides = [
    [4, 5, 7, 6],
    [1, 0, 2, 3],
    [5, 1, 3, 7],
    [0, 4, 6, 2],
    [6, 7, 3, 2],
    [0, 1, 5, 4],
  ];
  return quads(
    sides.map((ids, i): Quad => ({
      corners: ids.map(corner) as unknown as Quad['corners'],
      place: [
        (i % 3) / 3 + 0.01,
        Math.floor(i / 3) / 2 + 0.01,
        (i % 3) / 3 + 0.32,
        Math.floor(i / 3) / 2 + 0.48,
      ],
      part,
    })),
  );
}

/** A ring around z: radius R of its middle, r of its tube. */
function torus(R: number, r: number, around = 96, across = 32): UvMesh {
  const at = (i: number, j: number): Vec3 => {
    const [u, v] = [(i / around) * 2 * Math.PI, (j / across) * 2 * Math.PI];
    return [(R + r * Math.cos(v)) * Math.cos(u), (R + r * Math.cos(v)) * Math.sin(u), r * Math.sin(v)];
  };
  const list: Quad[] = [];
  for (let i = 0; i < around; i++) {
    for (let j = 0; j < across; j++) {
      list.push({
        corners: [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)],
        place: [i / around, j / across, (i + 1) / around, (j + 1) / across],
        part: 'Ring',
      });
    }
  }
  return quads(list);
}

describe('silhouettes in closed form', () => {
  it('of a ball: a disc whose edge rays touch it, focal * r / sqrt(d² - r²)', () => {
    const seen = focalArea(pixels(covered(ball(128, 64, 1, [0, 0, 0]), FRONT)));
    expect(seen).toBeCloseTo(1 / Math.sqrt(36 - 1), 2);
  });

  it('of a cube head-on: the square of its nearer face', () => {
    const side = (FOCAL * 2) / 5;
    expect(pixels(covered(box(1, 1, 1), FRONT)) / side ** 2).toBeCloseTo(1, 1.7);
  });

  it('of a torus along its axis, without perspective: the ring between R - r and R + r', () => {
    const far: MatchCamera = {
      ...FRONT,
      position: [0, 0, 600],
      fovY: (2 * Math.atan(2 / 600) * 180) / Math.PI,
    };
    const unit = 75;
    const area = Math.PI * ((1.3 * unit) ** 2 - (0.7 * unit) ** 2);
    expect(pixels(covered(torus(1, 0.3), far)) / area).toBeCloseTo(1, 1.7);
  });
});

const focalArea = (count: number): number => Math.sqrt(count / Math.PI) / FOCAL;

/** A figure that looks the same from no two sides. */
const FIGURE = together(
  ball(40, 20, 0.7, [0, 0.6, 0]),
  box(0.45, 0.5, 0.3),
  ball(24, 12, 0.3, [0.75, -0.1, 0.25]),
  ball(24, 12, 0.2, [-0.3, 1.35, 0.1]),
);

/** The farthest that a vertex is seen off, in parts of the picture's height. */
function off(a: MatchCamera, b: MatchCamera): number {
  const [one, two] = [projection(a), projection(b)];
  let most = 0;
  for (let v = 0; v < FIGURE.positions.length; v += 3) {
    const p: Vec3 = [FIGURE.positions[v]!, FIGURE.positions[v + 1]!, FIGURE.positions[v + 2]!];
    const [x, y] = [one(p), two(p)];
    most = Math.max(most, Math.hypot(x.x - y.x, x.y - y.y));
  }
  return most / a.height;
}

describe('a camera told by silhouettes', () => {
  const truth: MatchCamera = { ...FRONT, position: [2.2, 1.4, 5.5], target: [0.1, 0.45, 0] };
  const mask = covered(FIGURE, truth);

  it('is refined from one that is some degrees and pixels off, to within a hundredth of the height', () => {
    const start = { ...truth, position: [2.9, 1.0, 5.6] as const, target: [0.2, 0.4, 0] as const };
    expect(off(start, truth)).toBeGreaterThan(0.03);
    const fit = refineBySilhouette(FIGURE, start, mask);
    expect(fit.iou).toBeGreaterThan(0.98);
    expect(off(fit.camera, truth)).toBeLessThan(0.01);
  });

  it('is found from nothing', () => {
    const seen: number[] = [];
    const fit = findBySilhouette(FIGURE, mask, { width: 300, height: 300 }, undefined, (d) => seen.push(d));
    expect(fit.iou).toBeGreaterThan(0.97);
    expect(off(fit.camera, truth)).toBeLessThan(0.02);
    expect(seen.at(-1)).toBeCloseTo(1, 1);
    expect(seen.every((d, i) => i === 0 || d >= seen[i - 1]!)).toBe(true);
  });

  it('is refused where the mask is empty, or of something else', () => {
    const none = new Uint8Array(90_000);
    expect(() => refineBySilhouette(FIGURE, truth, none)).toThrow(/mask holds nothing/);
    const cross = Uint8Array.from(none, (_, i) => {
      const [x, y] = [i % 300, Math.floor(i / 300)];
      return Math.abs(x - 150) < 6 || Math.abs(y - 150) < 6 ? 1 : 0;
    });
    expect(() => findBySilhouette(FIGURE, cross, { width: 300, height: 300 })).toThrow(/From no side/);
  });
});

describe('a camera from pairs', () => {
  const random = seededRandom(21);
  const places = Array.from({ length: 12 }, (): Vec3 => [
    random() * 2 - 1,
    random() * 2 - 1,
    random() * 2 - 1,
  ]);
  const pairsSeen = (camera: MatchCamera) =>
    places.map((model) => {
      const { x, y } = projection(camera)(model);
      return { model, picture: [x, y] as const };
    });

  it('of a picture through a lens is told with its bending', () => {
    const truth = {
      ...FRONT,
      position: [1.5, 2, 5] as const,
      shift: [0.08, -0.04] as [number, number],
      lens: 0.06,
    };
    const { camera, residuals } = fitCamera(pairsSeen(truth), {
      width: 300,
      height: 300,
      lens: true,
      shifted: true,
    });
    expect(Math.max(...residuals)).toBeLessThan(1e-4);
    expect(camera.lens).toBeCloseTo(0.06, 4);
    const see = projection(camera);
    const p: Vec3 = [0.3, -0.4, 0.5];
    const ray = rayThrough(camera, see(p).x, see(p).y);
    const toward = normalize([0, 1, 2].map((k) => p[k]! - camera.position[k]!) as unknown as Vec3);
    normalize(ray).forEach((v, k) => expect(v).toBeCloseTo(toward[k]!, 6));
  });

  it('of a picture without perspective has none', () => {
    const truth = { ...FRONT, position: [300, 200, 500] as const, fovY: 0.5 };
    const { camera, residuals } = fitCamera(pairsSeen(truth), {
      width: 300,
      height: 300,
      how: 'orthographic',
    });
    expect(Math.max(...residuals)).toBeLessThan(0.05);
    expect(camera.fovY).toBeCloseTo(0.5, 6);
  });

  it('that are noisy has the spread that they allow: the Cramér-Rao bound, within a fifth', () => {
    const truth = { ...FRONT, position: [1.5, 2, 5] as const };
    const exact = pairsSeen(truth);
    const sigma = 0.6;
    const noise = gauss(seededRandom(5));
    const runs = 80;
    let sum = 0;
    for (let k = 0; k < runs; k++) {
      const pairs = exact.map(({ model, picture: [x, y] }) => ({
        model,
        picture: [x + sigma * noise(), y + sigma * noise()] as const,
      }));
      const { camera } = fitCamera(pairs, { width: 300, height: 300 });
      const see = projection(camera);
      exact.forEach(({ model, picture: [x, y] }) => {
        const seen = see(model);
        sum += (seen.x - x) ** 2 + (seen.y - y) ** 2;
      });
    }
    // What an efficient estimate of p parameters leaves of n measurements of variance s² is, in sum, p s² on the fitted ones
    // (S. Kay, "Fundamentals of Statistical Signal Processing: Estimation Theory", 1993, 3.8 and 4.4).
    const parameters = 7;
    expect(sum / runs / (parameters * sigma ** 2)).toBeGreaterThan(0.8);
    expect(sum / runs / (parameters * sigma ** 2)).toBeLessThan(1.2);
  });
});

/** Normal deviates by G. Box and M. Muller, 1958. */
function gauss(random: () => number): () => number {
  return () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}
