import { expect, it } from 'vitest';
import { floorQuad, quads } from '../../tests/shapes';
import { putOnSheet, sheetCount, sheetsOfPictures, sheetOfPart } from '../mesh';
import { measureSurface } from '../surface';
import { applyLayoutEdit } from './layout-edit';

const FULL = [0, 0, 1, 1] as const;

/** Three squares, each of which fills its sheet; the last one is twice as long. */
const three = () => quads([floorQuad(1, FULL, 'A'), floorQuad(1, FULL, 'B'), floorQuad(2, FULL, 'C')]);

it('puts all sheets on one: nothing lies over another, and a unit has as many texels everywhere', () => {
  const mesh = putOnSheet(putOnSheet(three(), [1], 1), [2], 2);
  const how = { size: 256, margin: 4, weights: new Map<string, number>() };
  const joined = applyLayoutEdit(mesh, { do: 'join', how });
  expect(sheetCount(joined)).toBe(1);
  expect(measureSurface(joined, 256).sheets[0]!.overlappedTexels).toBe(0);
  const side = (face: number): number => {
    const [a, b] = [0, 1].map((k) => joined.indices[face * 3 + k]! * 2) as [number, number];
    return Math.hypot(joined.uvs[a]! - joined.uvs[b]!, joined.uvs[a + 1]! - joined.uvs[b + 1]!);
  };
  expect(side(2) / side(0)).toBeCloseTo(1, 3);
  expect(side(4) / side(0)).toBeCloseTo(2, 3);
});

it('parts without a picture lie on a sheet of their own where they would lie over those with one', () => {
  const pictures = ['a.png', null, 'c.png'];
  const sheetsOf = (mesh: ReturnType<typeof three>) =>
    mesh.parts.map((_, part) => sheetOfPart(sheetsOfPictures(mesh, pictures), part));
  expect(sheetsOf(three())).toEqual([0, 2, 1]);
  // Where there is room for them they stay.
  const beside = quads([
    floorQuad(1, [0, 0, 0.4, 1], 'A'),
    floorQuad(1, [0.5, 0, 1, 1], 'B'),
    floorQuad(2, FULL, 'C'),
  ]);
  expect(sheetsOf(beside)).toEqual([0, 0, 1]);
});

it('packs what has no border: front and back on the same points of the sheet', () => {
  const front = quads([floorQuad(1, [0, 0, 0.5, 0.5], 'Leaf')]);
  const indices = Uint32Array.from([...front.indices, ...front.indices.toReversed()]);
  const leaf = { ...front, indices, faceParts: new Uint16Array(4) };
  const { uvs } = applyLayoutEdit(leaf, { do: 'join', how: { size: 256, margin: 4, weights: new Map() } });
  for (const x of uvs) {
    expect(x).toBeGreaterThanOrEqual(0);
    expect(x).toBeLessThanOrEqual(1);
  }
  expect(Math.max(...uvs) - Math.min(...uvs)).toBeGreaterThan(0.5);
});
