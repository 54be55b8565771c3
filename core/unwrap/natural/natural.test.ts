import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { box, grid } from '../../../tests/forms';
import { ball, together } from '../../../tests/shapes';
import { edgeLengths, faceRuns, findIslands, topologyOf, type Mesh } from '../../mesh';
import {
  doneHere,
  layoutSeams,
  measureLayout,
  naturalCharts,
  planModel,
  sayUnwanted,
  SEEN_FROM,
  seamWorth,
  sightOf,
  stepsWithin,
  unwantedSeams,
  unwrapModel,
} from '..';

const tube = (columns: number, rows: number): Mesh =>
  grid(
    columns,
    rows,
    (u, v) => [0.4 * Math.cos(-2 * Math.PI * u), 2 * v - 1, 0.4 * Math.sin(-2 * Math.PI * u)],
    true,
  );

const natural = (...args: Parameters<typeof naturalCharts>) => doneHere(naturalCharts(...args));

const laid = (mesh: Mesh) =>
  measureLayout(unwrapModel(mesh, { size: 256, margin: 4, seams: 'auto', cut: 'natural' }), 256);

// What can be unrolled without stretch is, in as few pieces as its form allows: a textbook fact of developable surfaces.
describe('what can be unrolled', () => {
  it.each([
    ['a box is one cross', box(0.5, 0.4, 0.3), 1],
    ['a tube is one strip', tube(24, 8), 1],
    ['a folded sheet stays whole', grid(12, 6, (u, v) => [u, Math.abs(u - 0.5), -v]), 1],
    [
      'a cone is one fan',
      grid(
        32,
        6,
        (u, v) => {
          const r = 0.2 + 0.8 * v;
          return [r * Math.cos(2 * Math.PI * u), -v, r * Math.sin(2 * Math.PI * u)];
        },
        true,
      ),
      1,
    ],
  ] as const)('%s', (_, mesh, islands) => {
    const m = laid(mesh);
    expect(m.islands).toBe(islands);
    expect(m.stretchL2).toBeLessThan(1.001);
    expect([m.flipped, m.overlappedTexels]).toEqual([0, 0]);
  });
});

describe('a natural cut', () => {
  const bumpy = { ...together(ball(32, 16), ball(24, 12, 0.6, [0.9, 0.5, 0.2])), uvs: null };

  it('leaves fewer islands and less seam in sight than an even one, within its bound', () => {
    const even = unwrapModel(bumpy, { size: 256, margin: 4, seams: 'auto', cut: 'even' });
    const natural = unwrapModel(bumpy, { size: 256, margin: 4, seams: 'auto', cut: 'natural' });
    const [was, is] = [measureLayout(even, 256), measureLayout(natural, 256)];
    expect(is.islands).toBeLessThan(was.islands);
    expect(is.seamLength * is.seamSight).toBeLessThan(was.seamLength * was.seamSight * 0.8);
    expect(is.stretchL2).toBeLessThan(1.06);
    expect(is.stretchLinf).toBeLessThan(3);
    expect([is.flipped, is.overlappedTexels]).toEqual([0, 0]);
    const tight = measureLayout(
      unwrapModel(bumpy, { size: 256, margin: 4, seams: 'auto', cut: 'natural', bound: 1.002 }),
      256,
    );
    expect(tight.stretchL2).toBeLessThan(1.004);
    expect(tight.islands).toBeGreaterThanOrEqual(is.islands);
  });

  it('leaves discs: corners less edges and triangles is 1, counted by their numbers alone', () => {
    const topology = topologyOf(bumpy);
    const { charts } = natural(bumpy, topology, {
      bound: 1.06,
      seams: new Uint8Array(topology.edges.uses.length),
    });
    for (const { chart } of charts) {
      const corners = new Set(chart.indices);
      const edges = new Set<string>();
      for (let c = 0; c < chart.indices.length; c += 3) {
        for (const [k, l] of [
          [0, 1],
          [1, 2],
          [2, 0],
        ] as const)
          edges.add([chart.indices[c + k]!, chart.indices[c + l]!].sort((a, b) => a - b).join());
      }
      expect(corners.size - edges.size + chart.faces.length).toBe(1);
    }
  });

  it('opens a tube where a seam is wished for, and not where none is', () => {
    const mesh = tube(32, 12);
    const topology = topologyOf(mesh);
    const { ends, uses } = topology.edges;
    const at = (e: number, axis: number): number =>
      (mesh.positions[ends[e * 2]! * 3 + axis]! + mesh.positions[ends[e * 2 + 1]! * 3 + axis]!) / 2;
    const seamAt = (wishes: Float32Array | null): number => {
      const seams = new Uint8Array(uses.length);
      const { charts } = natural(mesh, topology, { bound: 1.06, seams, wishes });
      expect(charts.length).toBe(1);
      const uvs = new Float32Array(mesh.indices.length * 2);
      charts[0]!.chart.faces.forEach((f, i) => {
        for (let k = 0; k < 3; k++)
          uvs.set(
            charts[0]!.flat.uv.subarray(
              charts[0]!.chart.indices[i * 3 + k]! * 2,
              charts[0]!.chart.indices[i * 3 + k]! * 2 + 2,
            ),
            (f * 3 + k) * 2,
          );
      });
      // Where corners that meet on the model lie apart.
      let [x, count] = [0, 0];
      topology.across.forEach((o, c) => {
        if (o < 0) return;
        const next = o % 3 === 2 ? o - 2 : o + 1;
        if (uvs[c * 2] === uvs[next * 2] && uvs[c * 2 + 1] === uvs[next * 2 + 1]) return;
        x += at(topology.edges.ofCorner[c]!, 0);
        count++;
      });
      return x / count;
    };
    const right = Float32Array.from(uses, (_, e) => (at(e, 0) > 0.2 ? 0.1 : 4));
    const left = Float32Array.from(uses, (_, e) => (at(e, 0) < -0.2 ? 0.1 : 4));
    expect(seamAt(right)).toBeGreaterThan(0.2);
    expect(seamAt(left)).toBeLessThan(-0.2);
  });

  it('makes no island of triangles without area: at a pole they lie on those beside them', () => {
    const pot = grid(
      24,
      10,
      (u, v) => [v * Math.cos(-2 * Math.PI * u), v * v * 0.2, v * Math.sin(-2 * Math.PI * u)],
      true,
    );
    for (const cut of ['even', 'natural'] as const) {
      const out = unwrapModel(pot, { size: 256, margin: 4, seams: 'auto', cut });
      expect(findIslands(out).count).toBe(1);
      const m = measureLayout(out, 256);
      expect([m.flipped, m.overlappedTexels]).toEqual([0, 0]);
      expect(m.stretchLinf).toBeLessThan(1.5);
    }
  });
});

describe('both sides', () => {
  /** A ball with ears and a nose, even over x = 0, whose quads are cut in two another way on either side. */
  const head = (): Mesh => {
    const mesh = ball(40, 20);
    const positions = mesh.positions.map((x) => Math.round(x * 1e5) / 1e5);
    for (let v = 0; v < positions.length; v += 3) {
      const [x, y, z] = [Math.abs(positions[v]!), positions[v + 1]!, positions[v + 2]!];
      const ear = 0.6 * Math.exp(-8 * ((x - 0.7) ** 2 + (y - 0.5) ** 2));
      const nose = 0.4 * Math.exp(-8 * (x ** 2 + (z - 1) ** 2));
      for (let k = 0; k < 3; k++) positions[v + k]! *= 1 + ear + nose;
    }
    return { ...mesh, positions, uvs: null };
  };

  it('are cut alike', () => {
    const mesh = head();
    const topology = topologyOf(mesh);
    const seams = layoutSeams(
      unwrapModel(mesh, { size: 256, margin: 4, seams: 'auto', bound: 1.01 }),
      topology,
    );
    const at = (v: number, side: number): string =>
      [side * mesh.positions[v * 3]!, mesh.positions[v * 3 + 1]!, mesh.positions[v * 3 + 2]!]
        .map((x) => Math.round(x * 1e3))
        .join(' ')
        .replaceAll('-0', '0');
    const nameOf = (e: number, side: number): string =>
      [at(topology.edges.ends[e * 2]!, side), at(topology.edges.ends[e * 2 + 1]!, side)].sort().join(' | ');
    const cut = [...seams.keys()].filter((e) => seams[e]);
    const names = new Set(cut.map((e) => nameOf(e, 1)));
    expect(cut.length).toBeGreaterThan(20);
    expect(cut.filter((e) => !names.has(nameOf(e, -1)))).toEqual([]);
  });

  it('lie beside one another, as high as one another and the same way up', () => {
    const [left, right] = [ball(24, 12, 0.4, [-1, 0.3, 0]), ball(24, 12, 0.4, [1, 0.3, 0])];
    for (const side of [left, right])
      for (let v = 0; v < side.positions.length; v += 3) {
        side.positions[v + 1]! *= 2.5;
        for (let k = 0; k < 3; k++) side.positions[v + k] = Math.round(side.positions[v + k]! * 1e4) / 1e4;
      }
    const mesh = { ...together({ ...left, parts: ['Left'] }, { ...right, parts: ['Right'] }), uvs: null };
    const out = unwrapModel(mesh, { size: 512, margin: 8, seams: 'auto' });
    const { ofFace, count } = findIslands(out);
    const box = (island: number): number[] => {
      const uv: [number, number][] = [];
      ofFace.forEach((i, f) => {
        if (i !== island) return;
        for (let k = 0; k < 3; k++) {
          const v = out.indices[f * 3 + k]! * 2;
          uv.push([out.uvs[v]!, out.uvs[v + 1]!]);
        }
      });
      return [
        Math.min(...uv.map((p) => p[0])),
        Math.max(...uv.map((p) => p[0])),
        Math.min(...uv.map((p) => p[1])),
        Math.max(...uv.map((p) => p[1])),
      ];
    };
    const sides = Array.from({ length: count }, (_, i) => ({
      box: box(i),
      part: out.faceParts[ofFace.indexOf(i)]!,
    }));
    const half = sides.filter((s) => s.part === 0);
    expect(half.length * 2).toBe(count);
    for (const { box: a } of half) {
      // Its twin: about as high (quads are cut another way there), the margin away on the right.
      const twin = sides.find(
        (s) =>
          s.part === 1 &&
          Math.abs(s.box[2]! - a[2]!) < 10 / 512 &&
          Math.abs(s.box[3]! - a[3]!) < 10 / 512 &&
          s.box[0]! > a[1]! &&
          s.box[0]! - a[1]! < 14 / 512,
      );
      expect(twin).toBeDefined();
      expect(twin!.box[0]! - a[1]!).toBeGreaterThanOrEqual(7.5 / 512);
    }
    // What is higher on the model is higher on the sheet.
    const faces = (island: number): number => ofFace.filter((i) => i === island).length;
    const largest = [...ofFace].reduce((a, b) => (faces(b) > faces(a) ? b : a));
    const [ys, vs]: [number[], number[]] = [[], []];
    out.indices.forEach((v, c) => {
      if (ofFace[Math.floor(c / 3)] !== largest) return;
      ys.push(out.positions[v * 3 + 1]!);
      vs.push(out.uvs[v * 2 + 1]!);
    });
    expect(correlation(ys, vs)).toBeGreaterThan(0.9);
  });
});

/** Pearson's. */
function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (list: readonly number[]): number => list.reduce((x, y) => x + y, 0) / list.length;
  const [p, q] = [mean(a), mean(b)];
  const sum = (of: (i: number) => number): number => a.reduce((s, _, i) => s + of(i), 0);
  return (
    sum((i) => (a[i]! - p) * (b[i]! - q)) /
    Math.sqrt(sum((i) => (a[i]! - p) ** 2) * sum((i) => (b[i]! - q) ** 2))
  );
}

describe('a plan', () => {
  const bumpy = { ...together(ball(32, 16), ball(24, 12, 0.6, [0.9, 0.5, 0.2])), uvs: null };
  const plan = planModel(bumpy, { bound: 1.15 });

  it('goes from many pieces with next to no stretch to few', () => {
    expect(plan.steps.length).toBeGreaterThan(3);
    for (let k = 1; k < plan.steps.length; k++) {
      expect(plan.steps[k]!.islands).toBeLessThanOrEqual(plan.steps[k - 1]!.islands);
      expect(plan.steps[k]!.seamLength).toBeLessThan(plan.steps[k - 1]!.seamLength);
    }
    expect(stepsWithin(plan, 1.15)).toBe(plan.steps.length);
    expect(stepsWithin(plan, 1.002)).toBeLessThan(plan.steps.length);
  });

  it('is laid out as it foretold, wherever it is stopped, after it was sent elsewhere', () => {
    const sent = structuredClone(plan);
    for (const bound of [1.005, 1.15]) {
      const step = plan.steps[stepsWithin(plan, bound) - 1]!;
      const m = measureLayout(
        unwrapModel(bumpy, { size: 256, margin: 4, seams: 'auto', plan: sent, bound }),
        256,
      );
      expect(Math.abs(m.islands - step.islands)).toBeLessThanOrEqual(2);
      expect(m.stretchL2).toBeLessThan(bound * 1.01);
      expect(m.seamLength / step.seamLength).toBeGreaterThan(0.75);
      expect(m.seamLength / step.seamLength).toBeLessThan(1.35);
      expect([m.flipped, m.overlappedTexels]).toEqual([0, 0]);
    }
  });
});

describe('seams that stay, and wishes', () => {
  it('keeps seams that are given', () => {
    const mesh = tube(24, 8);
    const topology = topologyOf(mesh);
    // One ring round the middle, each edge by a corner.
    const ring = [...topology.edges.ofCorner.keys()].filter((c) => {
      const e = topology.edges.ofCorner[c]! * 2;
      return [0, 1].every((k) => Math.abs(mesh.positions[topology.edges.ends[e + k]! * 3 + 1]!) < 1e-6);
    });
    expect(ring.length).toBeGreaterThan(0);
    const out = unwrapModel(mesh, { size: 256, margin: 4, seams: 'auto', kept: ring });
    expect(findIslands(out).count).toBe(2);
    const seams = layoutSeams(out, topology);
    for (const c of ring) expect(seams[topology.edges.ofCorner[c]!]).toBe(1);
  });

  it('leads them where they are wanted, and says where one runs that is not', () => {
    const mesh = { ...ball(24, 12), uvs: null };
    const faces = mesh.faceParts.length;
    const front = faceRuns(faces, (f) =>
      [0, 1, 2].every((k) => mesh.positions[mesh.indices[f * 3 + k]! * 3 + 2]! > 0.2),
    );
    const how = { size: 256, margin: 4, seams: 'auto', bound: 1.15 } as const;
    const out = unwrapModel(mesh, { ...how, wishes: { never: front, gladly: [] } });
    expect(unwantedSeams(out, topologyOf(out), { never: front, gladly: [] }).edges.length).toBeLessThan(12);
    const all = { never: faceRuns(faces, () => true), gladly: [] };
    const whole = unwantedSeams(unwrapModel(mesh, { ...how, wishes: all }), topologyOf(mesh), all);
    expect(whole.parts).toEqual(['Ball']);
    expect(sayUnwanted(whole)).toMatch(/No seam is wanted on “Ball”, but it can’t lie flat without one/);
    expect(sayUnwanted({ edges: [], parts: [] })).toBeNull();
  });
});

describe('how much a place is seen', () => {
  // Counted once more with rays from each vertex by three-mesh-bvh, a general-purpose library.
  it('is the share of views that nothing hides, weighted by how squarely', () => {
    const mesh = together(ball(24, 12), ball(16, 8, 0.5, [0, 0, 1.6]), ball(16, 8, 0.4, [1.1, 0.9, 0]));
    const topology = topologyOf(mesh);
    const sight = sightOf(mesh, topology);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
    geometry.setIndex(new BufferAttribute(mesh.indices, 1));
    const tree = new MeshBVH(geometry);
    const most = SEEN_FROM.reduce((sum, { toward, weight }) => sum + weight * Math.max(0, toward[2]), 0);
    const differences = Array.from({ length: mesh.positions.length / 3 }, (_, v) => {
      const n = new Vector3().fromArray(mesh.normals, v * 3);
      const origin = new Vector3().fromArray(mesh.positions, v * 3).addScaledVector(n, 0.03);
      let sum = 0;
      for (const { toward, weight } of SEEN_FROM) {
        const way = new Vector3(...toward);
        const square = n.dot(way);
        if (square > 0 && !tree.raycastFirst(new Ray(origin, way), DoubleSide)) sum += weight * square;
      }
      return Math.abs(Math.min(1, sum / most) - sight[v]!);
    });
    differences.sort((a, b) => a - b);
    expect(differences.reduce((a, b) => a + b, 0) / differences.length).toBeLessThan(0.04);
    expect(differences[Math.floor(differences.length * 0.9)]!).toBeLessThan(0.1);
  });

  it('makes a seam dear in front and cheap behind, below and in a crease', () => {
    const mesh = ball(24, 12);
    const topology = topologyOf(mesh);
    const { costs } = seamWorth(mesh, topology);
    const lengths = edgeLengths(topology, mesh.positions);
    const mean = (is: (x: number, y: number, z: number) => boolean): number => {
      let [cost, length] = [0, 0];
      costs.forEach((c, e) => {
        const v = topology.edges.ends[e * 2]! * 3;
        if (!is(mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!)) return;
        cost += c;
        length += lengths[e]!;
      });
      return cost / length;
    };
    const front = mean((_x, _y, z) => z > 0.8);
    expect(mean((_x, _y, z) => z < -0.8)).toBeLessThan(front / 2);
    expect(mean((_x, y) => y < -0.8)).toBeLessThan(front / 3);
    const book = grid(2, 4, (u, v) => [u - 0.5, Math.abs(u - 0.5), v]);
    const own = topologyOf(book);
    const worth = seamWorth(book, own);
    const long = edgeLengths(own, book.positions);
    const middle = [...worth.costs.keys()].find(
      (e) =>
        book.positions[own.edges.ends[e * 2]! * 3] === 0 &&
        book.positions[own.edges.ends[e * 2 + 1]! * 3] === 0,
    )!;
    expect(worth.costs[middle]! / long[middle]! / (0.12 + 0.88 * worth.sight[middle]!)).toBeLessThan(0.6);
  });
});
