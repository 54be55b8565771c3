import { describe, expect, it } from 'vitest';
import { ball, together } from '../../tests/shapes';
import { topologyOf, twinVertices, type UvMesh } from '.';

const LEFT_RIGHT = [
  [0, 0, 0],
  [1, 0, 0],
] as const;

const at = ({ positions }: UvMesh, v: number): number[] => [...positions.subarray(v * 3, v * 3 + 3)];

/** A ball whose one side is swollen and pulled about. */
function lopsided(): UvMesh {
  const mesh = ball(24, 16, 1);
  const positions = mesh.positions.slice();
  for (let v = 0; v < positions.length; v += 3) {
    const side = Math.max(0, positions[v]!);
    positions[v]! += 0.12 * side;
    positions[v + 1]! += 0.06 * side * Math.sin(positions[v + 2]! * 3);
  }
  return { ...mesh, positions };
}

/** How far two vertices of a mesh lie apart. */
const apart = (mesh: UvMesh, v: number, w: number): number => {
  const [a, b] = [at(mesh, v), at(mesh, w)];
  return Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!, a[2]! - b[2]!);
};

describe('the two sides of a mesh', () => {
  it('are paired vertex by vertex, whichever way its quads are cut: each stands where its twin’s mirror image does', () => {
    const mesh = ball(24, 16, 1);
    const topology = topologyOf(mesh);
    const { ofVertex, offsets, paired } = twinVertices(mesh, topology, ...LEFT_RIGHT);
    expect(paired).toBe(new Set(topology.welded).size);
    ofVertex.forEach((twin, v) => {
      if (twin < 0) return;
      const [x, y, z] = at(mesh, v) as [number, number, number];
      const other = at(mesh, twin);
      expect(Math.hypot(other[0]! + x, other[1]! - y, other[2]! - z)).toBeLessThan(1e-6);
    });
    expect(Math.max(...offsets.map(Math.abs))).toBeLessThan(1e-6);
  });

  it('are paired the same where they differ by up to an edge', () => {
    const even = ball(24, 16, 1);
    const mesh = lopsided();
    const wanted = twinVertices(even, topologyOf(even), ...LEFT_RIGHT).ofVertex;
    const { ofVertex, paired } = twinVertices(mesh, topologyOf(mesh), ...LEFT_RIGHT);
    expect(paired).toBeGreaterThan(new Set(topologyOf(mesh).welded).size * 0.9);
    const wrong = [...ofVertex.keys()].filter(
      (v) => ofVertex[v]! >= 0 && wanted[v]! >= 0 && apart(even, ofVertex[v]!, wanted[v]!) > 1e-6,
    );
    expect(wrong).toEqual([]);
  });

  it('of two shells: each pairs with the other', () => {
    const mesh = together(ball(12, 8, 0.3, [-0.5, 0, 0]), ball(12, 8, 0.3, [0.5, 0, 0]));
    const { ofVertex } = twinVertices(mesh, topologyOf(mesh), ...LEFT_RIGHT);
    const half = mesh.positions.length / 6;
    ofVertex.forEach((twin, v) => twin >= 0 && expect(twin < half).toBe(v >= half));
  });

  it('what has nothing like it on the other side has no twin, and is mirrored straight', () => {
    const mesh = ball(12, 8, 0.3, [0.9, 0, 0]);
    const { paired, offsets } = twinVertices(mesh, topologyOf(mesh), ...LEFT_RIGHT);
    expect(paired).toBe(0);
    expect(offsets.every((x) => x === 0)).toBe(true);
  });
});
