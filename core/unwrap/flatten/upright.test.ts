import { describe, expect, it } from 'vitest';
import { uprightTurn } from './upright';

/** Two upright squares of the model side by side, one to the front and one to the back; each lies on the sheet turned by its own angle. */
function squares(front: number, back: number) {
  const positions: number[] = [];
  const uv: number[] = [];
  for (const [left, z, turn] of [
    [0, 1, front],
    [3, -1, back],
  ] as const) {
    for (const [x, y] of [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as const) {
      positions.push(z * x, y, z);
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      uv.push(left + c * x - s * y, s * x + c * y);
    }
  }
  const indices = Uint32Array.of(0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7);
  return { chart: { positions: Float32Array.from(positions), indices }, uv: Float64Array.from(uv) };
}

const degrees = (angle: number): number => (angle * 180) / Math.PI;

describe('a piece on the sheet', () => {
  it('is turned so that it stands as on the model', () => {
    const { chart, uv } = squares(0.5, 0.5);
    expect(uprightTurn(chart, uv)).toBeCloseTo(-0.5, 6);
  });

  it('stands as what is seen from the front does, where its sides disagree', () => {
    const { chart, uv } = squares(0, Math.PI / 2);
    expect(Math.abs(degrees(uprightTurn(chart, uv)))).toBeLessThan(10);
  });

  it('points its front upward where it lies level', () => {
    // A floor: v runs to the back of the model, so it is turned by half a circle.
    const chart = {
      positions: Float32Array.of(0, 0, 0, 1, 0, 0, 1, 0, -1, 0, 0, -1),
      indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
    };
    expect(Math.abs(degrees(uprightTurn(chart, Float64Array.of(0, 0, 1, 0, 1, 1, 0, 1))))).toBeCloseTo(
      180,
      5,
    );
  });
});
