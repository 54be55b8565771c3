import { describe, expect, it } from 'vitest';
import { floor, vault } from '../../tests/shapes';
import { findIslandSides } from '../mesh';
import { measureSurface, twinPairs, twinWords } from '../surface';
import { applyLayoutEdit } from '.';

const PACK = {
  margin: 4,
  even: false,
  arrange: 'tightest',
  weights: new Map<string, number>(),
  pins: [],
} as const;

describe('twins', () => {
  it('are told by name, and which way round', () => {
    const [pair, ...others] = twinPairs(measureSurface(vault(), 128));
    expect(others).toEqual([]);
    expect(pair!.mirrored).toBe(true);
    expect(pair!.first.faces.length).toBe(pair!.second.faces.length);
    expect([twinWords(pair!)]).toContainEqual(
      expect.stringMatching(/^Vault (left = Vault right|right = Vault left), mirrored$/),
    );
  });

  it('are taken apart: no texel is shared any more, both face up, each as large as before beside the other', () => {
    const made = applyLayoutEdit(vault(), { do: 'apart', faces: [], how: PACK, sizes: [256], sheet: null });
    const map = measureSurface(made, 256);
    expect(map.overlappedTexels).toBe(0);
    expect(twinPairs(map)).toEqual([]);
    expect(findIslandSides(made)).toMatchObject({ islands: 2, count: 2 });
    for (let c = 0; c < made.indices.length; c += 3) {
      const [a, b, d] = [0, 1, 2].map((k) => made.indices[c + k]! * 2) as [number, number, number];
      const u = made.uvs;
      expect(
        (u[b]! - u[a]!) * (u[d + 1]! - u[a + 1]!) - (u[b + 1]! - u[a + 1]!) * (u[d]! - u[a]!),
      ).toBeGreaterThan(0);
    }
  });

  it('that aren’t there are told', () => {
    const edit = { do: 'apart', faces: [], how: PACK, sizes: [256], sheet: null } as const;
    expect(() => applyLayoutEdit(floor(), edit)).toThrow(/no twins to separate/);
  });
});
