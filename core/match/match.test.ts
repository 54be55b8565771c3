import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ball, floor } from '../../tests/shapes';
import { CoreError } from '../errors';
import { dot, normalize, seededRandom, type Vec3 } from '../math';
import {
  cheapestPairs,
  compareSilhouettes,
  degreesBetween,
  distancesTo,
  fitLight,
  maskFromGround,
  matchModel,
  projection,
  seeModel,
  seenColors,
  type MatchCamera,
} from '.';

const FRONT: MatchCamera = {
  position: [0, 0, 6],
  target: [0, 0, 0],
  up: [0, 1, 0],
  fovY: 30,
  shift: [0, 0],
  width: 200,
  height: 200,
};

describe('a model as a camera sees it', () => {
  // The contour of a ball of radius r at distance d is seen under the angle asin(r / d).
  it('has a ball’s silhouette as the closed form says', () => {
    const { faces } = seeModel(ball(128, 64), FRONT);
    const focal = 100 / Math.tan((15 * Math.PI) / 180);
    const radius = focal * Math.tan(Math.asin(1 / 6));
    const covered = faces.reduce((n, f) => n + (f >= 0 ? 1 : 0), 0);
    expect(covered / (Math.PI * radius * radius)).toBeCloseTo(1, 2);
  });

  it('shows the nearest triangle, and the texel under the pixel’s middle, also aslant', () => {
    const camera: MatchCamera = { ...FRONT, position: [2, 3, 4] };
    const mesh = floor(2);
    const seen = seeModel(mesh, camera);
    const side = 256;
    const rgba = new Uint8Array(side * side * 4);
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) rgba.set([x, y, 0, 255], (y * side + x) * 4);
    const colors = seenColors(mesh, seen, [{ width: side, height: side, rgba }]);
    const see = projection(camera);
    for (let i = 0; i < seen.faces.length; i += 37) {
      if (seen.faces[i]! < 0) continue;
      // The floor's UVs run from 0 to 1 over -1..1 in x, and up the sheet as z falls.
      const [u, v] = [(colors[i * 4]! + 0.5) / side, 1 - (colors[i * 4 + 1]! + 0.5) / side];
      const back = see([u * 2 - 1, 0, 1 - v * 2]);
      expect(Math.hypot(back.x - ((i % 200) + 0.5), back.y - (Math.floor(i / 200) + 0.5))).toBeLessThan(1.2);
    }
  });
});

describe('silhouettes', () => {
  const disc = (cx: number, cy: number, r: number): Uint8Array =>
    Uint8Array.from({ length: 200 * 200 }, (_, i) =>
      Math.hypot((i % 200) - cx, Math.floor(i / 200) - cy) <= r ? 1 : 0,
    );

  it('that are the same match wholly; a disc within a larger one as their areas and radii say', () => {
    expect(compareSilhouettes(disc(99, 99, 50), disc(99, 99, 50), 200, 200)).toEqual({
      iou: 1,
      contourMean: 0,
      contourWorst: 0,
    });
    const { iou, contourMean, contourWorst } = compareSilhouettes(
      disc(99, 99, 60),
      disc(99, 99, 50),
      200,
      200,
    );
    expect(iou).toBeCloseTo((50 / 60) ** 2, 2);
    expect(contourMean).toBeGreaterThan(9);
    expect(contourMean).toBeLessThan(11);
    expect(contourWorst).toBeLessThan(12);
  });

  it('have distances as each pixel counted by itself', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 63, maxLength: 63 }), (bits) => {
        const marked = Uint8Array.from(bits, Number);
        const d = distancesTo(marked, 9, 7);
        for (let i = 0; i < 63; i++) {
          let least = Infinity;
          for (let k = 0; k < 63; k++) {
            if (!marked[k]) continue;
            least = Math.min(least, ((i % 9) - (k % 9)) ** 2 + (Math.floor(i / 9) - Math.floor(k / 9)) ** 2);
          }
          expect(d[i]).toBe(least);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('are told from a ground that is plain or gently shaded, and refused where there is none', () => {
    const inside = disc(90, 110, 40);
    const rgba = new Uint8Array(200 * 200 * 4);
    inside.forEach((m, i) => {
      const y = Math.floor(i / 200);
      rgba.set(m ? [200, 90, 40, 255] : [60 + y * 0.2, 80 + y * 0.2, 120, 255], i * 4);
    });
    expect(maskFromGround({ width: 200, height: 200, rgba })).toEqual(inside);
    // A hole that isn't reached from the border belongs to the figure.
    const told = (rows: Uint8Array): string => {
      try {
        maskFromGround({ width: 200, height: 200, rgba: rows });
      } catch (error) {
        if (error instanceof CoreError && error.code === 'bad-argument') return error.message;
        throw error;
      }
      return '';
    };
    expect(told(new Uint8Array(200 * 200 * 4).fill(255))).toMatch(/Nothing in the picture stands out/);
    const random = seededRandom(3);
    expect(
      told(Uint8Array.from({ length: 160_000 }, (_, i) => (i % 4 === 3 ? 255 : random() * 255))),
    ).toMatch(/no plain ground/);
    const clear = Uint8Array.from({ length: 160_000 }, (_, i) => (i % 4 === 3 && !inside[i >> 2] ? 0 : 255));
    expect(maskFromGround({ width: 200, height: 200, rgba: clear })).toEqual(inside);
  });
});

describe('pairs that cost least', () => {
  it('are those that trying all finds', () => {
    const best = (cost: readonly (readonly number[])[], row = 0, used = new Set<number>()): number =>
      row === cost.length
        ? 0
        : Math.min(
            ...cost[row]!.map((c, k) =>
              used.has(k) ? Infinity : c + best(cost, row + 1, new Set([...used, k])),
            ),
          );
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5 }).chain((n) =>
          fc.array(fc.array(fc.integer({ min: 0, max: 99 }), { minLength: n, maxLength: n }), {
            minLength: 1,
            maxLength: n,
          }),
        ),
        (cost) => {
          const pairs = cheapestPairs(cost);
          expect(new Set(pairs).size).toBe(cost.length);
          expect(pairs.reduce((sum, c, r) => sum + cost[r]![c]!, 0)).toBe(best(cost));
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('painted light', () => {
  const normals: Vec3[] = [];
  const mesh = ball(48, 24);
  for (let v = 0; v < mesh.normals.length; v += 3)
    normals.push([mesh.normals[v]!, mesh.normals[v + 1]!, mesh.normals[v + 2]!]);

  // A ball lit from a known direction by Lambert's law, and by wrapped light.
  it('is found within 2 degrees on balls that are lit from 200 directions', () => {
    const random = seededRandom(9);
    for (let i = 0; i < 200; i++) {
      const truth = normalize([random() - 0.5, random() - 0.5, random() - 0.5]);
      const wrap = random();
      const lit = normals.map((normal) => ({
        normal,
        value:
          Math.max(
            0,
            (normal[0] * truth[0] + normal[1] * truth[1] + normal[2] * truth[2] + wrap) / (1 + wrap),
          ) + 0.1,
      }));
      const found = fitLight(lit)!;
      expect(degreesBetween(found.direction, truth)).toBeLessThan(2);
      expect(found.certainty).toBeGreaterThan(0.7);
    }
  });

  // The same seen from one side, where shadows of others lie on it: a wall beside it takes the sky from one half.
  it('is found within 8 degrees on the side that is seen, with occlusion on it', () => {
    const random = seededRandom(11);
    let worst = 0;
    for (let i = 0; i < 200; i++) {
      const truth = normalize([random() - 0.5, random() * 0.8, random() * 0.8 + 0.2]);
      const wall = normalize([random() - 0.5, -random(), random() - 0.5]);
      const lit = normals
        .filter((n) => n[2] > 0)
        .map((normal) => {
          const cos = normal[0] * truth[0] + normal[1] * truth[1] + normal[2] * truth[2];
          const toWall = normal[0] * wall[0] + normal[1] * wall[1] + normal[2] * wall[2];
          // The part of a half space of sky that a tilted plane sees: (1 + cos) / 2 (Liu and Jordan 1963).
          const open = 1 - 0.2 * ((1 + toWall) / 2);
          return { normal, value: (0.25 + 0.75 * Math.max(0, cos)) * open };
        });
      worst = Math.max(worst, degreesBetween(fitLight(lit)!.direction, truth));
    }
    expect(worst).toBeLessThan(8);
  });

  // Cel paint: which of three tones lies where is told by the light alone.
  it('is found within 4 degrees from three flat tones, on the side that is seen', () => {
    const random = seededRandom(12);
    let worst = 0;
    for (let i = 0; i < 100; i++) {
      const truth = normalize([random() - 0.5, random() * 0.8, random() * 0.8 + 0.2]);
      const lit = normals
        .filter((n) => n[2] > 0)
        .map((normal) => {
          const cos = dot(normal, truth);
          return { normal, value: cos > 0.68 ? 0.8 : cos > 0.05 ? 0.45 : 0.12 };
        });
      worst = Math.max(worst, degreesBetween(fitLight(lit)!.direction, truth));
    }
    expect(worst).toBeLessThan(4);
  });

  it('is uncertain where values don’t follow the form, and not told from too little', () => {
    const random = seededRandom(2);
    const noise = normals.map((normal) => ({ normal, value: random() }));
    expect(fitLight(noise)!.certainty).toBeLessThan(0.1);
    expect(fitLight(noise.slice(0, 5))).toBeNull();
    expect(fitLight(normals.map((normal) => ({ normal, value: 0.4 })))).toBeNull();
  });
});

describe('a whole match', () => {
  it('of a picture of the model itself is exact; another colour is told by part and in words', () => {
    const mesh = ball(48, 24);
    const side = 64;
    const sheet = (r: number, g: number, b: number) => {
      const rgba = new Uint8Array(side * side * 4);
      for (let i = 0; i < rgba.length; i += 4) rgba.set([r, g, b, 255], i);
      return { width: side, height: side, rgba };
    };
    const seen = seenColors(mesh, seeModel(mesh, FRONT), [sheet(180, 90, 60)]);
    const picture = { width: 200, height: 200, rgba: seen };
    const same = matchModel(mesh, [sheet(180, 90, 60)], FRONT, picture, null).report;
    expect(same.silhouette).toEqual({ iou: 1, contourMean: 0, contourWorst: 0, places: [], parts: [] });
    expect(same.advice).toEqual([]);
    expect(same.deltaE).toEqual({ mean: 0, p50: 0, p95: 0 });
    expect(same.palette).toMatchObject([{ deltaE: 0 }]);
    expect(same.values.reference).toEqual(same.values.model);
    const darker = matchModel(mesh, [sheet(120, 50, 30)], FRONT, picture, null).report;
    expect(darker.deltaE.mean).toBeGreaterThan(10);
    expect(darker.parts).toMatchObject([{ part: 'Ball', words: expect.stringMatching(/dark/) as string }]);
  });
});
