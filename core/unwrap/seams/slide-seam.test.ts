import { describe, expect, it } from 'vitest';
import { edgeLengths, topologyOf } from '../../mesh';
import { edgeFans, slideSeam } from '..';

/** A flat grid of 9 x 9 vertices at whole numbers, quads cut along one diagonal. */
function grid() {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j < 9; j++) for (let i = 0; i < 9; i++) positions.push(i, j, 0);
  for (let j = 0; j < 8; j++)
    for (let i = 0; i < 8; i++) {
      const a = j * 9 + i;
      indices.push(a, a + 1, a + 10, a, a + 10, a + 9);
    }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

const mesh = grid();
const topology = topologyOf(mesh);
const { ends } = topology.edges;
const costs = edgeLengths(topology, mesh.positions);
const at = (x: number, y: number): number => y * 9 + x;
const edge = (a: number, b: number): number =>
  [...costs.keys()].find((e) => ends[e * 2] === Math.min(a, b) && ends[e * 2 + 1] === Math.max(a, b))!;
const along = (list: readonly (readonly [number, number])[]): number[] =>
  list.slice(1).map((p, i) => edge(at(...list[i]!), at(...p)));
const row = (y: number): number[] => along(Array.from({ length: 7 }, (_, i) => [i + 1, y] as const));
const sum = (edges: readonly number[]): number => edges.reduce((s, e) => s + costs[e]!, 0);
const verticesOf = (edges: readonly number[]): Set<number> =>
  new Set(edges.flatMap((e) => [ends[e * 2]!, ends[e * 2 + 1]!]));
const on = (seams: readonly number[], points: readonly number[] = []) => ({
  topology,
  fans: edgeFans(topology),
  costs,
  seams: new Set(seams),
  points: new Set(points),
});

describe('a seam that is dragged', () => {
  it('goes the cheapest way through where it is dragged to, and keeps its ends', () => {
    const slid = slideSeam(on(row(4)), at(4, 4), at(4, 6))!;
    expect(slid.off.toSorted()).toEqual(row(4).toSorted());
    const vertices = verticesOf(slid.on);
    for (const v of [at(1, 4), at(4, 6), at(7, 4)]) expect(vertices.has(v)).toBe(true);
    // By hand: two diagonals and one step to the right going up; down there is no such diagonal, so three and two.
    expect(sum(slid.on)).toBeCloseTo(2 * Math.SQRT2 + 1 + 5, 9);
  });

  it('still goes through the places where it is held', () => {
    const slid = slideSeam(on(row(4), [at(2, 4), at(6, 4)]), at(4, 4), at(4, 3))!;
    const vertices = verticesOf(slid.on);
    for (const v of [at(1, 4), at(2, 4), at(4, 3), at(6, 4), at(7, 4)]) expect(vertices.has(v)).toBe(true);
  });

  it('doesn’t cross another', () => {
    const wall = row(5);
    expect(slideSeam(on([...row(4), ...wall]), at(4, 4), at(4, 5))).toBeNull();
    const slid = slideSeam(on([...row(4), ...wall]), at(4, 4), at(4, 7));
    // Round its end.
    expect(slid).not.toBeNull();
    for (const v of verticesOf(slid!.on)) expect(verticesOf(wall).has(v)).toBe(false);
  });

  it('is a ring that is held on its far side', () => {
    const ring = along([
      [2, 2],
      [3, 2],
      [4, 2],
      [5, 2],
      [5, 3],
      [5, 4],
      [4, 4],
      [3, 4],
      [2, 4],
      [2, 3],
      [2, 2],
    ]);
    const slid = slideSeam(on(ring), at(3, 2), at(3, 1))!;
    expect(verticesOf(slid.on).has(at(3, 1))).toBe(true);
    const counts = new Map<number, number>();
    for (const e of slid.on)
      for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) counts.set(v, (counts.get(v) ?? 0) + 1);
    expect([...counts.values()].every((n) => n === 2)).toBe(true);
  });

  it('stays where it is if there is none, or where seams meet', () => {
    expect(slideSeam(on(row(4)), at(4, 6), at(4, 7))).toBeNull();
    const cross = [...row(4), edge(at(4, 4), at(4, 5)), edge(at(4, 4), at(4, 3))];
    expect(slideSeam(on(cross), at(4, 4), at(5, 5))).toBeNull();
  });
});
