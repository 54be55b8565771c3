import { describe, expect, it } from 'vitest';
import { evenBall, form, type Place } from '../../../tests/forms';
import { findIslands, topologyOf, type Mesh, type UvMesh } from '../../mesh';
import { layoutSeams, measureLayout, unwrapModel } from '..';

const how = { size: 256, margin: 4, seams: 'auto' } as const;

/** A head with ears and a nose, the same on both sides of x = 0. */
function head([x, y, z]: Place): Place {
  const ear = 0.7 * Math.exp(-9 * ((Math.abs(x) - 0.7) ** 2 + (y - 0.6) ** 2 + z ** 2));
  const nose = 0.4 * Math.exp(-9 * (x ** 2 + y ** 2 + (z - 1) ** 2));
  const r = 1 + ear + nose;
  return [x * r, y * r, z * r];
}

const together = (...meshes: readonly Mesh[]): Mesh => {
  let first = 0;
  const indices = meshes.flatMap((mesh) => {
    const own = Array.from(mesh.indices, (v) => v + first);
    first += mesh.positions.length / 3;
    return own;
  });
  return form(
    meshes.flatMap((mesh) => [...mesh.positions]),
    indices,
  );
};

/** How far places are from what lies opposite, mean and at the 95th part, in edges: told here by trying all. */
function unlikeness(mesh: UvMesh): { mean: number; most: number } {
  const topology = topologyOf(mesh);
  const { ends } = topology.edges;
  const seams = layoutSeams(mesh, topology);
  const at = (v: number): number[] => [...mesh.positions.subarray(v * 3, v * 3 + 3)];
  const lengthOf = (e: number): number =>
    Math.hypot(...at(ends[e * 2]!).map((x, k) => x - at(ends[e * 2 + 1]!)[k]!));
  const edges = [...seams.keys()];
  const edge = edges.reduce((sum, e) => sum + lengthOf(e), 0) / edges.length;
  const cut = edges.filter((e) => seams[e]);
  const middles = cut.map((e) => at(ends[e * 2]!).map((x, k) => (x + at(ends[e * 2 + 1]!)[k]!) / 2));
  const places = [...middles, ...cut.flatMap((e) => [at(ends[e * 2]!), at(ends[e * 2 + 1]!)])];
  const far = middles
    .map(([x, y, z]) => Math.min(...places.map(([a, b, c]) => Math.hypot(a! + x!, b! - y!, c! - z!))) / edge)
    .sort((a, b) => a - b);
  return {
    mean: far.reduce((sum, d) => sum + d, 0) / far.length,
    most: far[Math.floor(0.95 * far.length)]!,
  };
}

describe('two sides that are triangulated quite otherwise', () => {
  // Seams run along edges: where these aren't the same, half an edge is as near as seams can come to one another.
  it.each([0.2, 0.55, 1.1])('of one surface are cut alike (turned by %f)', (turn) => {
    const out = unwrapModel(evenBall(11, turn, head), how);
    const { mean, most } = unlikeness(out);
    expect(mean).toBeLessThan(0.6);
    expect(most).toBeLessThan(2);
    const m = measureLayout(out, 256);
    expect([m.flipped, m.overlappedTexels]).toEqual([0, 0]);
    expect(m.stretchL2).toBeLessThan(1.06);
  });

  it('are two shells that mirror one another: as many islands, seams alike, side by side on the sheet', () => {
    const ear = (side: number, turn: number): Mesh =>
      evenBall(7, turn, ([x, y, z]) => {
        const r = 1 + 0.5 * Math.max(0, side * x + y) ** 3;
        return [side * 2.5 + 0.6 * x * r, y * r, 0.5 * z * r];
      });
    // Something between that isn't the same on both sides.
    const out = unwrapModel(
      together(
        ear(-1, 0.4),
        ear(1, 1.9),
        evenBall(5, 0, ([x, y, z]) => [x, y - 2, z]),
      ),
      how,
    );
    const { ofFace, count } = findIslands(out);
    const sideOf = (f: number): number => Math.sign(Math.round(out.positions[out.indices[f * 3]! * 3]! / 3));
    const islandsOn = (side: number): number[] => [
      ...new Set([...ofFace.keys()].filter((f) => sideOf(f) === side).map((f) => ofFace[f]!)),
    ];
    expect(islandsOn(-1)).toHaveLength(islandsOn(1).length);
    expect(islandsOn(-1).length).toBeLessThan(count);
    expect(unlikeness(out).mean).toBeLessThan(0.6);
    const facesOf = (island: number): number[] => [...ofFace.keys()].filter((f) => ofFace[f] === island);
    const lowest = (side: number): number => {
      const [largest] = islandsOn(side)
        .map(facesOf)
        .sort((a, b) => b.length - a.length);
      return Math.min(
        ...largest!.flatMap((f) => [0, 1, 2].map((k) => out.uvs[out.indices[f * 3 + k]! * 2 + 1]!)),
      );
    };
    expect(lowest(-1)).toBeCloseTo(lowest(1), 2);
  });
});
