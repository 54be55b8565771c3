import { describe, expect, it } from 'vitest';
import { floorQuad, quads } from '../../tests/shapes';
import { findIslands, type UvMesh } from '../mesh';
import { measureSurface } from '../surface';
import { applyLayoutEdit, findTwins, packLayout, stackTwins } from '.';

/** A square on each side of x = 0, mirrored but for the height of one corner, and one in the middle. */
function pair(lift = 0): UvMesh {
  const left = [
    [-3, 0, 1],
    [-1, 0, 1],
    [-1, 0.2, -1],
    [-3, 0, -1.5],
  ] as const;
  // Counter-clockwise on the other side too: the mirrored corners the other way round.
  const right = [left[1], left[0], left[3], left[2]].map(
    ([x, y, z], i) => [-x, y + (i === 0 ? lift : 0), z] as const,
  );
  return quads([
    { part: 'Left', corners: left, place: [0.05, 0.05, 0.25, 0.3] },
    { part: 'Right', corners: right, place: [0.4, 0.5, 0.8, 0.8] },
    floorQuad(0.5, [0.05, 0.6, 0.2, 0.75], 'Middle'),
  ]);
}

/** The uv where a corner's place on the model lies, by its position. */
const uvAt = (mesh: UvMesh, x: number, z: number): number[] => {
  for (let v = 0; v < mesh.positions.length / 3; v++)
    if (mesh.positions[v * 3] === x && mesh.positions[v * 3 + 2] === z)
      return [mesh.uvs[v * 2]!, mesh.uvs[v * 2 + 1]!];
  throw new Error('no vertex there');
};

describe('mirrored twins', () => {
  it('are found by their shape, whatever their layout is', () => {
    // Their quads are cut into triangles along different diagonals.
    const twins = findTwins(pair());
    expect(twins).toHaveLength(1);
    expect([...twins[0]!.first, ...twins[0]!.second].sort()).toEqual([0, 1, 2, 3]);
    // One corner higher by more than hand-made models are uneven: no twin any more.
    expect(findTwins(pair(0.05))).toEqual([]);
    expect(findTwins(pair(1e-5))).toHaveLength(1);
  });

  it('lie on one another corner by corner, and share every texel', () => {
    const stacked = stackTwins(pair());
    for (const [x, z] of [
      [3, 1],
      [1, 1],
      [1, -1],
      [3, -1.5],
    ] as const) {
      expect(uvAt(stacked, x, z)).toEqual(uvAt(stacked, -x, z));
    }
    const before = measureSurface(pair(), 128);
    const after = measureSurface(stacked, 128);
    expect(before.overlappedTexels).toBe(0);
    expect(after.overlappedTexels).toBeGreaterThan(0.95 * 0.2 * 0.25 * 128 * 128);
    expect(uvAt(stacked, -0.25, 0.25)).toEqual(uvAt(pair(), -0.25, 0.25));
  });

  it('only among those that are chosen; a clear sentence where there are none', () => {
    expect(() => applyLayoutEdit(pair(), { do: 'stack', faces: [0, 4] })).toThrow(/mirror image/);
    expect(findTwins(pair(), [1, 2])).toHaveLength(1);
  });

  it('stay on one another when they are packed', () => {
    const stacked = stackTwins(pair());
    const how = {
      size: 256,
      margin: 8,
      even: true,
      arrange: 'tightest' as const,
      weights: new Map(),
      pins: [],
    };
    const packed = packLayout(stacked, how);
    expect(findIslands(packed).count).toBe(3);
    expect(uvAt(packed, 3, -1.5)).toEqual(uvAt(packed, -3, -1.5));
    // With one island less the others have more room.
    const length = (m: UvMesh): number => {
      const [a, b] = [uvAt(m, -3, 1), uvAt(m, -1, 1)];
      return Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);
    };
    expect(length(packed)).toBeGreaterThan(length(packLayout(pair(), how)) * 1.1);
  });
});
