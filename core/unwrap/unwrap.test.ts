import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ball, plate, together } from '../../tests/shapes';
import { topologyOf, type Mesh } from '../mesh';
import { uvFigures } from '../surface';
import {
  borderCrossings,
  applyLayoutEdit,
  cheapestPath,
  convexHull,
  cornerUvs,
  cutIntoCharts,
  edgeLoop,
  flattenChart,
  foldedTriangles,
  measureDistortion,
  measureIslands,
  measureLayout,
  mirroredEdges,
  moveFaces,
  packIslands,
  packLayout,
  seamCosts,
  shapeOf,
  sheetMove,
  smallestBoxTurn,
  suggestSeams,
  unwrapModel,
  withCornerUvs,
  type Chart,
} from '.';

type Place = (u: number, v: number) => readonly [number, number, number];

/** A grid of quads bent by `place`. */
function sheet(columns: number, rows: number, place: Place): Chart {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) positions.push(...place(i / columns, j / rows));
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      indices.push(p, p + 1, p + columns + 2, p, p + columns + 2, p + columns + 1);
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

/** As a model without UVs, one part. */
const model = ({ positions, indices }: Chart): Mesh => ({
  positions,
  indices,
  normals: new Float32Array(positions.length).fill(Math.SQRT1_2),
  uvs: null,
  faceParts: new Uint16Array(indices.length / 3),
  parts: ['Piece'],
});

const cylinder: Place = (u, v) => [Math.sin(u * 2 * Math.PI * 0.98), v * 3, Math.cos(u * 2 * Math.PI * 0.98)];
const cone: Place = (u, v) => {
  const r = 0.3 + v;
  return [r * Math.sin(u * 6), -v * 1.5, r * Math.cos(u * 6)];
};
const folded: Place = (u, v) => [
  u < 0.5 ? u : 0.5 + (u - 0.5) * 0.5,
  v,
  u < 0.5 ? 0 : (u - 0.5) * Math.sqrt(0.75),
];
/** Half a ball by rings from the pole to the equator; v is the angle from the pole. */
const halfBall: Place = (u, v) => {
  const a = u * 2 * Math.PI;
  const b = (v * Math.PI) / 2;
  return [Math.sin(b) * Math.cos(a), Math.cos(b), -Math.sin(b) * Math.sin(a)];
};

describe('flattening', () => {
  // A developable surface has a map without any stretch (do Carmo, Differential Geometry of Curves and Surfaces, 4-3).
  it.each([
    ['a cylinder', sheet(40, 12, cylinder)],
    ['a cone', sheet(60, 12, cone)],
    ['a folded sheet', sheet(10, 8, folded)],
  ])('%s lies flat with a stretch of 1', (_name, chart) => {
    const { uv, energy, overlaps } = flattenChart(chart, { steps: 300, tolerance: 1e-9 });
    const { stretchL2, stretchLinf, angle, area } = measureDistortion(chart, uv);
    expect(overlaps).toBe(false);
    expect(foldedTriangles(chart, uv)).toBe(0);
    expect(energy).toBeLessThan(4.001);
    expect(stretchL2).toBeLessThan(1.001);
    expect(stretchLinf).toBeLessThan(1.001);
    expect(angle).toBeLessThan(1.001);
    expect(area).toBeLessThan(1.001);
  });

  it('a dome folds nowhere, and relaxing beats the conformal map', () => {
    const dome = sheet(20, 20, (u, v) => {
      const x = u * 2 - 1;
      const z = v * 2 - 1;
      return [x, Math.sqrt(Math.max(0, 2.1 - x * x - z * z)), -z];
    });
    const relaxed = flattenChart(dome);
    const conformal = flattenChart(dome, { steps: 0 });
    expect(foldedTriangles(dome, relaxed.uv)).toBe(0);
    expect(relaxed.energy).toBeLessThan(conformal.energy);
  });

  it('refuses a closed surface with a sentence', () => {
    const closed: Chart = {
      positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]),
      indices: new Uint32Array([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
    };
    expect(() => flattenChart(closed)).toThrow(expect.objectContaining({ code: 'unwrap-closed' }));
  });

  it('never folds a triangle, whatever the bumps', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -0.6, max: 0.6, noNaN: true }), { minLength: 49, maxLength: 49 }),
        (bumps) => {
          const chart = sheet(6, 6, (u, v) => [u, bumps[Math.round(v * 6) * 7 + Math.round(u * 6)]!, -v]);
          const { uv } = flattenChart(chart);
          expect(foldedTriangles(chart, uv)).toBe(0);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('bears needles and triangles without area', () => {
    const chart = sheet(6, 6, (u, v) => [u, 0, -v]);
    const positions = chart.positions.slice();
    positions.set([0.5, 0, -0.5], 3 * 10);
    positions.set([0.5, 0, -0.5], 3 * 11);
    const { uv } = flattenChart({ ...chart, positions });
    expect(uv.every(Number.isFinite)).toBe(true);
  });
});

describe('distortion, after Sander et al. (2001)', () => {
  const chart = sheet(96, 48, halfBall);
  const mapped = (place: (b: number) => number): Float64Array => {
    const uv: number[] = [];
    for (let j = 0; j <= 48; j++) {
      for (let i = 0; i <= 96; i++) {
        const r = place((j / 48) * (Math.PI / 2));
        const a = (i / 96) * 2 * Math.PI;
        uv.push(r * Math.cos(a), -r * Math.sin(a));
      }
    }
    return Float64Array.from(uv);
  };

  // Stereographic projection keeps angles; along a parallel at angle b from the pole it stretches by 1 / (1 + cos b). The area
  // of the half ball is 2π, of its image π. L2² = (π / 2π) mean of (1 + cos b)² = 7/3 / 2; the worst is at the pole: 2 / √2.
  it('of a half ball in stereographic projection', () => {
    const d = measureDistortion(
      chart,
      mapped((b) => Math.sin(b) / (1 + Math.cos(b))),
    );
    expect(d.angle).toBeCloseTo(1, 2);
    expect(d.stretchL2).toBeCloseTo(Math.sqrt(7 / 6), 2);
    expect(d.stretchLinf).toBeCloseTo(Math.SQRT2, 2);
    expect(d.flipped).toBe(0);
  });

  // Lambert's azimuthal equal-area projection: r = 2 sin(b / 2); stretches cos(b / 2) along the meridian and its inverse across.
  // Mean over the area of (cos² + 1 / cos²) / 2 of b / 2: (3/4 + 2 ln 2 ... by u = cos b: integral of ((1+u)/2 + 2/(1+u)) / 2).
  it('of a half ball in equal-area projection', () => {
    const d = measureDistortion(
      chart,
      mapped((b) => 2 * Math.sin(b / 2)),
    );
    expect(d.area).toBeCloseTo(1, 2);
    expect(d.stretchL2).toBeCloseTo(Math.sqrt((3 / 4 + 2 * Math.log(2)) / 2), 2);
  });

  // Orthographic projection squeezes meridians by cos b and leaves parallels: the rim has no width left, so its stretch has no
  // bound; angle distortion is mean of (cos b + 1 / cos b) / 2, which has none either. What is finite is the area: π of 2π.
  it('of a half ball in orthographic projection grows without bound toward the rim', () => {
    const d = measureDistortion(chart, mapped(Math.sin));
    expect(d.stretchLinf).toBeGreaterThan(20);
    expect(d.stretchL2).toBeGreaterThan(1.4);
  });

  it('tells what lies face down', () => {
    const flat = sheet(2, 2, (u, v) => [u, 0, -v]);
    const mirrored = Float64Array.from({ length: 18 }, (_, i) =>
      i % 2 ? -flat.positions[(i >> 1) * 3 + 2]! : -flat.positions[(i >> 1) * 3]!,
    );
    expect(measureDistortion(flat, mirrored).flipped).toBe(8);
  });
});

describe('cutting', () => {
  it('a slit that ends inside opens the chart without dividing it', () => {
    const flat = sheet(4, 4, (u, v) => [u, 0, -v]);
    const topology = topologyOf(flat);
    const cut = new Uint8Array(topology.edges.uses.length);
    const path = cheapestPath(topology, () => 1, [2], new Set([12]));
    expect(path).toHaveLength(2);
    for (const e of path) cut[e] = 1;
    const [chart, ...rest] = cutIntoCharts(flat, topology, cut);
    expect(rest).toEqual([]);
    expect(chart!.positions.length / 3).toBe(25 + 2);
    expect(shapeOf(chart!)).toMatchObject({ euler: 1 });
  });

  // Euler characteristics: closed ball 2, disc 1, ring 0.
  it('tells ball, disc and ring apart', () => {
    const ring = sheet(12, 2, (u, v) => [Math.sin(u * 2 * Math.PI) || 0, v, Math.cos(u * 2 * Math.PI)]);
    // The last column lies where the first does: joined by its positions, it is a ring.
    for (let j = 0; j <= 2; j++) ring.positions.copyWithin((j * 13 + 12) * 3, j * 13 * 3, j * 13 * 3 + 3);
    const all = (mesh: Chart): Chart => {
      const t = topologyOf(mesh);
      return cutIntoCharts(mesh, t, new Uint8Array(t.edges.uses.length))[0]!;
    };
    expect(shapeOf(all(ring)).euler).toBe(0);
    expect(shapeOf(all(ring)).loops).toHaveLength(2);
    expect(shapeOf(sheet(3, 3, (u, v) => [u, 0, v])).euler).toBe(1);
    const tetrahedron = {
      positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]),
      indices: new Uint32Array([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
    };
    expect(shapeOf(tetrahedron)).toMatchObject({ euler: 2, loops: [] });
  });

  it('a layout that lies over itself has borders that cross', () => {
    const strip = sheet(30, 1, (u, v) => [u * 10, 0, -v]);
    const curled = (turns: number): Float64Array =>
      Float64Array.from({ length: 62 * 2 }, (_, i) => {
        const v = i >> 1;
        const angle = ((v % 31) / 30) * turns * 2 * Math.PI;
        const r = v < 31 ? 2 : 1;
        return i % 2 ? r * Math.sin(angle) : r * Math.cos(angle);
      });
    expect(borderCrossings(strip, curled(0.9))).toEqual([]);
    expect(borderCrossings(strip, curled(1.2)).length).toBeGreaterThan(0);
  });
});

describe('packing', () => {
  const square = (s: number, t = s) => ({
    points: Float64Array.of(0, 0, s, 0, s, t, 0, t),
    indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
  });
  const frame = {
    points: Float64Array.of(0, 0, 1, 0, 1, 1, 0, 1, 0.1, 0.1, 0.9, 0.1, 0.9, 0.9, 0.1, 0.9),
    indices: Uint32Array.of(0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7),
  };

  it('keeps everything on the sheet and apart by the margin', () => {
    const { uvs, fill } = packIslands(
      [square(0.5), square(0.3), square(0.3, 0.9), square(0.2), square(0.9, 0.1)],
      { size: 1024, margin: 16, turn: false },
    );
    const boxes = uvs.map((p) => {
      const xs = [0, 2, 4, 6].map((i) => p[i]!);
      const ys = [1, 3, 5, 7].map((i) => p[i]!);
      return { left: Math.min(...xs), right: Math.max(...xs), low: Math.min(...ys), high: Math.max(...ys) };
    });
    boxes.forEach((a, i) => {
      expect(Math.min(a.left, a.low)).toBeGreaterThanOrEqual(4 / 1024);
      expect(Math.max(a.right, a.high)).toBeLessThanOrEqual(1 - 4 / 1024);
      boxes.slice(i + 1).forEach((b) => {
        const apart = Math.max(a.left - b.right, b.left - a.right, a.low - b.high, b.low - a.high);
        expect(apart).toBeGreaterThanOrEqual(16 / 1024);
      });
    });
    expect(fill).toBeGreaterThan(0.6);
  });

  it('puts small islands into the holes of large ones', () => {
    const { uvs } = packIslands([frame, square(0.7)], { size: 1024, margin: 8, turn: true });
    const [outer, inner] = uvs as [Float64Array, Float64Array];
    expect(Math.min(...inner)).toBeGreaterThan(Math.min(...outer));
    expect(Math.max(...inner)).toBeLessThan(Math.max(...outer));
  });

  it('leaves pinned islands where they are and goes round them', () => {
    const pinned = { ...square(1), points: square(1).points.map((x) => x * 0.5) };
    const { uvs } = packIslands([square(0.4), square(0.4)], {
      size: 1024,
      margin: 8,
      turn: true,
      pinned: [pinned],
    });
    for (const p of uvs) {
      const [left, low] = [Math.min(p[0]!, p[2]!, p[4]!), Math.min(p[1]!, p[3]!, p[5]!)];
      expect(Math.max(left, low)).toBeGreaterThan(0.5);
    }
  });

  it('makes an island with double weight twice as long', () => {
    const { uvs } = packIslands([square(1), square(1)], {
      size: 1024,
      margin: 4,
      turn: false,
      weights: [1, 2],
    });
    const side = (p: Float64Array): number =>
      Math.max(...p.filter((_, i) => i % 2 === 0)) - Math.min(...p.filter((_, i) => i % 2 === 0));
    expect(side(uvs[1]!) / side(uvs[0]!)).toBeCloseTo(2, 6);
  });

  it('finds the hull and the smallest box of turned squares', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 6, noNaN: true }), (angle) => {
        const points = [0, 0, 4, 0, 4, 1, 0, 1, 2, 0.5].map(Number);
        const turned = points.map((_, i) => {
          const [x, y] = [points[i - (i % 2)]!, points[i - (i % 2) + 1]!];
          return i % 2
            ? x * Math.sin(angle) + y * Math.cos(angle)
            : x * Math.cos(angle) - y * Math.sin(angle);
        });
        expect(convexHull(turned).length).toBeGreaterThanOrEqual(8);
        const back = (smallestBoxTurn(turned) + angle) % (Math.PI / 2);
        expect(Math.min(Math.abs(back), Math.abs(Math.abs(back) - Math.PI / 2))).toBeLessThan(1e-6);
      }),
    );
  });
});

describe('a whole model', () => {
  const bumpy = model(
    sheet(60, 30, (u, v) => {
      const a = u * 2 * Math.PI;
      const b = (0.03 + 0.94 * v) * Math.PI;
      const r = 1 + 0.2 * Math.sin(3 * a) * Math.sin(4 * b);
      return [r * Math.sin(b) * Math.cos(a), r * Math.cos(b), -r * Math.sin(b) * Math.sin(a)];
    }),
  );

  it('is laid out evenly, without folds or overlaps, triangle by triangle as it was', () => {
    const unwrapped = unwrapModel(bumpy, { size: 512, margin: 8, seams: 'auto' });
    const m = measureLayout(unwrapped, 512);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0 });
    expect(m.stretchL2).toBeLessThan(1.01);
    expect(m.fill).toBeGreaterThan(0.45);
    expect(uvFigures(unwrapped)).toEqual({ outOfRange: 0, flipped: 0 });
    for (let c = 0; c < bumpy.indices.length; c++) {
      const was = bumpy.positions.subarray(bumpy.indices[c]! * 3, bumpy.indices[c]! * 3 + 3);
      const is = unwrapped.positions.subarray(unwrapped.indices[c]! * 3, unwrapped.indices[c]! * 3 + 3);
      if (was.join() !== is.join()) throw new Error(`Corner ${c} has moved.`);
    }
  });

  it('gives the same layout each time', () => {
    const options = { size: 512, margin: 8, seams: 'auto' } as const;
    expect(unwrapModel(bumpy, options).uvs).toEqual(unwrapModel(bumpy, options).uvs);
  });

  it('keeps present islands when asked, and cuts along creases', () => {
    const laidOut = unwrapModel(bumpy, { size: 512, margin: 8, seams: 'auto' });
    const again = unwrapModel(laidOut, { size: 512, margin: 8, seams: 'existing' });
    expect(measureLayout(again, 512).islands).toBe(measureLayout(laidOut, 512).islands);
    const box = model(boxShape());
    const creased = unwrapModel(box, { size: 512, margin: 8, seams: 'creases' });
    expect(measureLayout(creased, 512)).toMatchObject({ islands: 6, flipped: 0, overlappedTexels: 0 });
    expect(measureLayout(creased, 512).stretchL2).toBeCloseTo(1, 5);
  });

  it('gives a part with double weight twice the density', () => {
    const two = together(plate(0.2, 'A'), plate(0.2, 'B'));
    const m = unwrapModel(
      { ...two, uvs: null },
      { size: 512, margin: 4, seams: 'auto', weights: new Map([['B', 2]]) },
    );
    const density = (part: string) => measureIslands(m, 512).find((i) => m.parts[i.part] === part)!.density;
    expect(density('B') / density('A')).toBeCloseTo(2, 3);
  });

  it('refuses to keep islands that are not there', () => {
    expect(() => unwrapModel(bumpy, { size: 512, margin: 8, seams: 'existing' })).toThrow(
      expect.objectContaining({ code: 'model-no-uvs' }),
    );
  });

  // A Möbius strip has no two sides: somewhere its winding must change, and there it is cut (a strip lies flat).
  it.each([
    ['a Möbius strip', moebius()],
    ['a torus, genus 1', torus()],
    ['a closed box', boxShape()],
    [
      'two triangles on one edge thrice',
      {
        positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0),
        indices: Uint32Array.of(0, 1, 2, 0, 1, 3, 0, 1, 4),
      },
    ],
    [
      'a single triangle',
      { positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), indices: Uint32Array.of(0, 1, 2) },
    ],
    [
      'a triangle without area',
      { positions: Float32Array.of(0, 0, 0, 1, 0, 0, 2, 0, 0), indices: Uint32Array.of(0, 1, 2) },
    ],
  ] as const)('%s gets a layout without folds or overlaps', (_name, chart) => {
    const m = measureLayout(unwrapModel(model(chart), { size: 256, margin: 4, seams: 'auto' }), 256);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0 });
  });
});

describe('corners', () => {
  it('a layout taken off and put on again is the same', () => {
    const mesh = ball(12, 8);
    const again = withCornerUvs(mesh, cornerUvs(mesh));
    expect(cornerUvs(again)).toEqual(cornerUvs(mesh));
    expect(again.positions.length).toBeLessThanOrEqual(mesh.positions.length);
  });
});

describe('changing a layout', () => {
  const laid = unwrapModel(model(boxShape()), { size: 256, margin: 4, seams: 'creases' });
  const faces = [0, 1];

  it.each([
    ['a box', { kind: 'box' }],
    ['the front', { kind: 'plane', right: [1, 0, 0], up: [0, 1, 0] }],
    ['a cylinder', { kind: 'cylinder' }],
    ['a ball', { kind: 'sphere' }],
  ] as const)('projects from %s only what is chosen', (_name, projection) => {
    const after = cornerUvs(applyLayoutEdit(laid, { do: 'project', faces, projection }));
    expect(after.every(Number.isFinite)).toBe(true);
    expect(after.slice(12)).toEqual(cornerUvs(laid).slice(12));
  });

  it('a box projection of a box is without stretch', () => {
    const projected = applyLayoutEdit(laid, { do: 'project', faces: [], projection: { kind: 'box' } });
    expect(measureLayout(projected, 256).stretchL2).toBeCloseTo(1, 5);
  });

  it('moves, turns and flips: turned four times by a quarter it lies where it was', () => {
    const quarter = sheetMove([0.5, 0.5], { turn: Math.PI / 2 });
    let mesh = laid;
    for (let i = 0; i < 4; i++) mesh = moveFaces(mesh, (f) => (f < 2 ? quarter : null));
    cornerUvs(mesh).forEach((x, i) => expect(x).toBeCloseTo(cornerUvs(laid)[i]!, 5));
    const flipped = moveFaces(laid, (f) => (f < 2 ? sheetMove([0.5, 0.5], { scaleU: -1 }) : null));
    expect(measureLayout(flipped, 256).flipped).toBe(2);
  });

  it('packs round what is pinned, evenly by weight', () => {
    const uneven = moveFaces(laid, (f) => (f < 2 ? sheetMove([0, 0], { scaleU: 0.3, scaleV: 0.3 }) : null));
    const packed = packLayout(uneven, {
      size: 256,
      margin: 4,
      even: true,
      turn: true,
      weights: new Map(),
      pins: [4],
    });
    const m = measureLayout(packed, 256);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0 });
    expect(cornerUvs(packed).slice(24, 36)).toEqual(cornerUvs(uneven).slice(24, 36));
    const densities = measureIslands(packed, 256).map((i) => i.density);
    const others = densities.filter((_, i) => i !== 2);
    expect(Math.max(...others) / Math.min(...others)).toBeCloseTo(1, 3);
  });

  it('flattens only what is chosen, along the seams, where it was', () => {
    const seams = [0, 1, 2, 3, 4, 5];
    const edit = { do: 'flatten', how: { seams, faces, size: 256, margin: 4 } } as const;
    const after = applyLayoutEdit(laid, edit);
    expect(cornerUvs(after).slice(12)).toEqual(cornerUvs(laid).slice(12));
    expect(measureLayout(after, 256)).toMatchObject({ flipped: 0, overlappedTexels: 0 });
  });

  // A bent strip of quads, its corners pulled about in the layout: straight again, it is an exact rectangle.
  it('straightens a strip of quads into an exact rectangle', () => {
    const strip = model(sheet(12, 2, (u, v) => [Math.sin(u * 3), v, Math.cos(u * 3)]));
    const bent = unwrapModel(strip, { size: 256, margin: 4, seams: 'auto' });
    const at = cornerUvs(bent);
    const sheared = at.map((x, i) => (i % 2 ? x : x + 0.05 * Math.sin(at[i + 1]! * 12)));
    const pulled = moveFaces(withCornerUvs(bent, sheared), () => sheetMove([0, 0], { turn: 0.05 }));
    expect(measureLayout(pulled, 256).stretchL2).toBeGreaterThan(1.02);
    const straight = applyLayoutEdit(pulled, { do: 'straighten', faces: [] });
    const uv = cornerUvs(straight);
    const us = new Set([...uv].filter((_, i) => i % 2 === 0).map((x) => x.toFixed(5)));
    const vs = new Set([...uv].filter((_, i) => i % 2 === 1).map((x) => x.toFixed(5)));
    expect([us.size, vs.size].sort((a, b) => a - b)).toEqual([3, 13]);
    expect(measureLayout(straight, 256).stretchL2).toBeLessThan(1.01);
  });

  it('says so where nothing is a grid of quads', () => {
    const lone = unwrapModel(
      model({ positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), indices: Uint32Array.of(0, 1, 2) }),
      { size: 256, margin: 4, seams: 'auto' },
    );
    expect(() => applyLayoutEdit(lone, { do: 'straighten', faces: [] })).toThrow(
      expect.objectContaining({ code: 'unwrap-no-grid' }),
    );
  });
});

describe('seams', () => {
  const flat = sheet(6, 6, (u, v) => [u * 6 - 3, 0, -v * 6]);
  const topology = topologyOf(flat);

  it('an edge loop runs straight on over quads', () => {
    const along = topology.edges.ofCorner[0]!;
    const loop = edgeLoop(model(flat), topology, along);
    expect(loop.length).toBeGreaterThanOrEqual(1);
    const inner = [...topology.edges.uses.keys()].find((e) => {
      const [a, b] = [topology.edges.ends[e * 2]!, topology.edges.ends[e * 2 + 1]!];
      return a === 24 && b === 25;
    })!;
    expect(edgeLoop(model(flat), topology, inner)).toHaveLength(6);
  });

  it('are mirrored across x = 0, and twice mirrored lie where they were', () => {
    const edges = [0, 3, 7].map((c) => topology.edges.ofCorner[c]!);
    const there = mirroredEdges(flat, topology, edges);
    expect(there.length).toBeGreaterThan(0);
    const back = mirroredEdges(flat, topology, there);
    for (const e of back) expect(edges).toContain(e);
  });

  it('cost less in valleys, along creases and below than on open ground', () => {
    const valley = sheet(2, 2, (u, v) => [u, Math.abs(u - 0.5), -v]);
    const t = topologyOf(valley);
    const costs = seamCosts(valley, t);
    const edge = (a: number, b: number): number =>
      [...t.edges.uses.keys()].find((e) => t.edges.ends[e * 2] === a && t.edges.ends[e * 2 + 1] === b)!;
    expect(costs[edge(1, 4)]!).toBeLessThan(costs[edge(0, 3)]!);
  });

  it('that are suggested foretell the stretch that flattening along them leaves', () => {
    const mesh = unwrapModel(model(boxShape()), { size: 256, margin: 4, seams: 'creases' });
    const suggested = suggestSeams(mesh, []);
    const after = applyLayoutEdit(mesh, {
      do: 'flatten',
      how: { seams: suggested.seams, faces: [] },
    });
    expect(measureIslands(after, 256)).toHaveLength(suggested.islands);
    expect(suggested.stretchL2).toBeCloseTo(measureLayout(after, 256).stretchL2, 3);
  });
});

function boxShape(): Chart {
  const positions: number[] = [];
  for (let i = 0; i < 8; i++) positions.push(i & 1, (i >> 1) & 1, i >> 2);
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ] as const;
  return {
    positions: Float32Array.from(positions),
    indices: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
  };
}

function moebius(): Chart {
  const n = 24;
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i < n; i++) {
    const a = (i / n) * 2 * Math.PI;
    for (const s of [-0.3, 0.3]) {
      const r = 1 + s * Math.cos(a / 2);
      positions.push(r * Math.cos(a), s * Math.sin(a / 2), r * Math.sin(a));
    }
  }
  for (let i = 0; i < n; i++) {
    const [p, q] = [i * 2, i * 2 + 1];
    const [r, s] = i + 1 < n ? [p + 2, q + 2] : [1, 0];
    indices.push(p, q, s, p, s, r);
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

function torus(): Chart {
  const [n, m] = [24, 12];
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < m; j++) {
      const [a, b] = [(i / n) * 2 * Math.PI, (j / m) * 2 * Math.PI];
      positions.push((2 + Math.cos(b)) * Math.cos(a), Math.sin(b), (2 + Math.cos(b)) * Math.sin(a));
      const at = (x: number, y: number): number => (x % n) * m + (y % m);
      indices.push(at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i + 1, j));
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}
