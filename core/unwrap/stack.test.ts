import { describe, expect, it } from 'vitest';
import { bevelledBox, grid } from '../../tests/forms';
import { faceGeometry, faceRuns, groupByEdge, topologyOf, type Mesh, type UvMesh } from '../mesh';
import { packLayout, unwrapModel, type UnwrapOptions } from '.';
import { lendersOf } from './lenders';

/** Puts forms into one model, each a part. */
function joined(...forms: readonly Mesh[]): Mesh {
  const starts = forms.map((_, i) => forms.slice(0, i).reduce((n, m) => n + m.positions.length / 3, 0));
  const cat = (pick: (m: Mesh) => ArrayLike<number>): number[] => forms.flatMap((m) => Array.from(pick(m)));
  return {
    positions: Float32Array.from(cat((m) => m.positions)),
    normals: Float32Array.from(cat((m) => m.normals)),
    uvs: null,
    indices: Uint32Array.from(forms.flatMap((m, i) => Array.from(m.indices, (v) => v + starts[i]!))),
    faceParts: Uint16Array.from(forms.flatMap((m, i) => Array.from(m.faceParts, () => i))),
    parts: forms.map((_, i) => `Part ${i + 1}`),
  };
}

const moved = (
  mesh: Mesh,
  at: (x: number, y: number, z: number) => readonly [number, number, number],
): Mesh => {
  const positions = mesh.positions.slice();
  for (let v = 0; v < positions.length; v += 3) {
    positions.set(at(positions[v]!, positions[v + 1]!, positions[v + 2]!), v);
  }
  return { ...mesh, positions };
};

/** A hill that is the same on both sides of x = 0, its quads all cut along the same diagonal, so that triangles mirror no triangles. */
const hill = (): Mesh =>
  grid(12, 6, (u, v) => {
    const [x, z] = [4 * u - 2, 2 * v - 1];
    return [x, Math.exp(-((Math.abs(x) - 1) ** 2) - z * z - z / 4), z];
  });

/** How long a unit of the surface is on the sheet. */
function density(mesh: UvMesh): number {
  const solid = faceGeometry(mesh).areas.reduce((sum, a) => sum + a, 0);
  let flat = 0;
  for (let c = 0; c < mesh.indices.length; c += 3) {
    const [a, b, d] = [0, 1, 2].map((k) => mesh.indices[c + k]! * 2) as [number, number, number];
    const { uvs: u } = mesh;
    flat +=
      Math.abs((u[b]! - u[a]!) * (u[d + 1]! - u[a + 1]!) - (u[d]! - u[a]!) * (u[b + 1]! - u[a + 1]!)) / 2;
  }
  return Math.sqrt(flat / solid);
}

const HOW: UnwrapOptions = { size: 512, margin: 4, seams: 'auto' };
const uvOf = (mesh: UvMesh, c: number): string =>
  [0, 1].map((k) => mesh.uvs[mesh.indices[c]! * 2 + k]!.toFixed(6)).join(' ');

describe('stacked halves', () => {
  it('show the texels of their mirror images, however quads are cut, and so have more of them', () => {
    const mesh = hill();
    const alone = unwrapModel(mesh, HOW);
    const stacked = unwrapModel(mesh, { ...HOW, stack: { apart: [] } });
    // Each corner has the place of the corner at the mirrored place of the model.
    const places = new Map<string, Set<string>>();
    for (let c = 0; c < stacked.indices.length; c++) {
      const v = stacked.indices[c]! * 3;
      const p = [0, 1, 2].map((k) => stacked.positions[v + k]!);
      const key = [Math.abs(p[0]!), p[1]!, p[2]!].map((x) => x.toFixed(4)).join(' ');
      places.set(key, (places.get(key) ?? new Set()).add(uvOf(stacked, c)));
    }
    for (const set of places.values()) expect(set.size).toBe(1);
    // The whole is twice as wide as it is deep, the half is square: both fill the sheet's width.
    expect(density(stacked) / density(alone)).toBeGreaterThan(1.7);
    expect(stacked.indices).toHaveLength(mesh.indices.length);
  });

  it('leave texels of their own to what is kept apart', () => {
    const mesh = hill();
    const own = Array.from(mesh.faceParts, (_, f) => f).filter((f) => f < 24);
    const lenders = lendersOf(
      mesh,
      faceRuns(mesh.faceParts.length, (f) => f < 24),
    );
    for (const f of own) expect(lenders[f * 3]).toBe(f * 3);
    expect(new Set(lenders).size).toBeLessThan(mesh.indices.length * 0.7);
    expect(new Set(lenders).size).toBeGreaterThan(mesh.indices.length * 0.5);
  });

  it('of another weight aren’t stacked', () => {
    const left = moved(bevelledBox(1, 2, 3, 0.2), (x, y, z) => [x + 2, y, z]);
    const right = moved(bevelledBox(1, 2, 3, 0.2), (x, y, z) => [x - 2, y, z]);
    const mesh = joined(left, right);
    const lent = (weights: ReadonlyMap<string, number>): number =>
      lendersOf(mesh, [], weights).filter((l, c) => l !== c && Math.floor(c / 3) >= left.faceParts.length)
        .length;
    expect(lent(new Map())).toBe(right.indices.length);
    expect(lent(new Map([['Part 1', 2]]))).toBe(0);
  });
});

it('equal pieces that were moved and turned lie on one another, and stay so when they are packed anew', () => {
  const wheel = bevelledBox(1, 2, 3, 0.2);
  const turn = (a: number, x0: number) => (x: number, y: number, z: number) =>
    [x * Math.cos(a) - z * Math.sin(a) + x0, y + x0 / 3, x * Math.sin(a) + z * Math.cos(a)] as const;
  const other = moved(bevelledBox(1, 2, 3.1, 0.2), (x, y, z) => [x + 50, y, z + 7]);
  const mesh = joined(wheel, moved(wheel, turn(0.4, 9)), moved(wheel, turn(1.9, 21)), other);
  const laid = unwrapModel(mesh, { ...HOW, stack: { apart: [] } });
  const faces = wheel.faceParts.length;
  const isOn = (m: UvMesh, piece: number): boolean =>
    Array.from({ length: faces * 3 }, (_, c) => uvOf(m, c) === uvOf(m, piece * faces * 3 + c)).every(Boolean);
  const packed = packLayout(laid, {
    size: 512,
    margin: 4,
    even: true,
    arrange: 'upright',
    weights: new Map(),
    pins: [],
  });
  for (const m of [laid, packed]) {
    expect(isOn(m, 1)).toBe(true);
    expect(isOn(m, 2)).toBe(true);
    expect(isOn(m, 3)).toBe(false);
  }
  expect(groupByEdge(topologyOf(laid).edges, laid.faceParts.length).count).toBe(4);
});
