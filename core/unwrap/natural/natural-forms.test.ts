import { describe, expect, it } from 'vitest';
import { bevelledBox, thinSheet, turnedForm } from '../../../tests/forms';
import { topologyOf, type Mesh } from '../../mesh';
import { layoutSeams, measureLayout, unwrapModel } from '..';
import { turnedShape } from './turned-shape';

const laid = (mesh: Mesh) => unwrapModel(mesh, { size: 512, margin: 4, seams: 'auto', cut: 'natural' });

/** Places at both ends of each edge that became a seam. */
function seamsOf(mesh: Mesh): (readonly number[])[][] {
  const topology = topologyOf(mesh);
  const seams = layoutSeams(laid(mesh), topology);
  const { ends } = topology.edges;
  const at = (v: number): readonly number[] => [...mesh.positions.subarray(v * 3, v * 3 + 3)];
  return [...seams.keys()].filter((e) => seams[e]).map((e) => [at(ends[e * 2]!), at(ends[e * 2 + 1]!)]);
}

// How forms are cut by hand: common practice.
describe('forms that are cut in one way by everybody', () => {
  it('unfolds a bevelled box into one cross', () => {
    for (const bevel of [0.06, 0.2]) {
      const m = measureLayout(laid(bevelledBox(1, 0.7, 0.5, bevel)), 512);
      expect(m.islands).toBe(1);
      expect(m.stretchL2).toBeLessThan(1.01);
    }
  });

  it('splits a thin leaf along its rim: nothing of either face is cut', () => {
    const half = (v: number): number => 0.5 * Math.sin(Math.PI * (0.04 + 0.92 * v));
    const leaf = thinSheet(10, 24, 0.03, (u, v) => [(2 * u - 1) * half(v), 2 * v, 0.15 * Math.sin(3 * v)]);
    expect(measureLayout(laid(leaf), 512)).toMatchObject({ islands: 2 });
    for (const ends of seamsOf(leaf)) {
      for (const [x, y] of ends) {
        const isSide = Math.abs(Math.abs(x!) - half(y! / 2)) < 1e-5;
        expect(isSide || y! < 1e-6 || y! > 2 - 1e-6).toBe(true);
      }
    }
  });

  it('cuts what was turned along rings and one line behind, whichever way it leans', () => {
    const goblet = turnedForm(
      [
        [0, 0],
        [0.5, 0],
        [0.5, 0.05],
        [0.2, 0.1],
        [0.08, 0.2],
        [0.08, 0.7],
        ...Array.from({ length: 10 }, (_, i): [number, number] => {
          const a = (i / 9) * 1.5;
          return [0.1 + 0.4 * Math.sin(a), 1.3 - 0.55 * Math.cos(a)];
        }),
        ...Array.from({ length: 8 }, (_, i): [number, number] => {
          const a = 1.4 - (i / 8) * 1.4;
          return [0.46 * Math.sin(a), 1.25 - 0.42 * Math.cos(a)];
        }),
        [0, 0.83],
      ],
      24,
    );
    const m = measureLayout(laid(goblet), 512);
    expect(m.islands).toBeLessThanOrEqual(5);
    expect(m.stretchL2).toBeLessThan(1.06);
    const angles = new Set<number>();
    for (const [a, b] of seamsOf(goblet)) {
      if (
        Math.abs(a![1]! - b![1]!) < 1e-6 &&
        Math.abs(Math.hypot(a![0]!, a![2]!) - Math.hypot(b![0]!, b![2]!)) < 1e-6
      )
        continue;
      for (const [x, , z] of [a!, b!])
        if (Math.hypot(x!, z!) > 1e-6) angles.add(Math.round((Math.atan2(x!, z!) * 12) / Math.PI));
    }
    expect(angles.size).toBe(1);
    // Straight behind is 12 twelfths of a half turn.
    expect(Math.abs([...angles][0]!)).toBeGreaterThanOrEqual(9);
    // The same, leaning: turned about x by 0.7 and about z by 0.4.
    const [c, s, d, t] = [Math.cos(0.7), Math.sin(0.7), Math.cos(0.4), Math.sin(0.4)];
    const leaning = { ...goblet, positions: goblet.positions.slice() };
    for (let i = 0; i < leaning.positions.length; i += 3) {
      const [x, y, z] = goblet.positions.subarray(i, i + 3);
      const [v, w] = [c * y! - s * z!, s * y! + c * z!];
      leaning.positions.set([d * x! - t * v, t * x! + d * v, w], i);
    }
    const { rings, along } = turnedShape(leaning, topologyOf(leaning))!;
    expect([along.length, rings.filter((r) => r.length === 1).length]).toEqual([24, 2]);
  });

  it('takes nothing for turned that has a bump', () => {
    const jar = turnedForm(
      Array.from({ length: 9 }, (_, i) => [0.5 + 0.2 * Math.sin(i / 2), i / 4] as const),
      16,
    );
    expect(turnedShape(jar, topologyOf(jar))).not.toBeNull();
    jar.positions[60]! += 0.02;
    expect(turnedShape(jar, topologyOf(jar))).toBeNull();
  });
});
