import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { alignMoves, snapMoves, spreadMoves, type IslandMoves, type SheetBox } from '..';

const box = fc
  .record({
    left: fc.double({ min: 0, max: 0.8, noNaN: true }),
    low: fc.double({ min: 0, max: 0.8, noNaN: true }),
    width: fc.double({ min: 0.01, max: 0.2, noNaN: true }),
    height: fc.double({ min: 0.01, max: 0.2, noNaN: true }),
  })
  .map(({ left, low, width, height }): SheetBox => ({ left, low, right: left + width, high: low + height }));
const boxes = fc.array(box, { minLength: 2, maxLength: 9 }).map((list) => new Map(list.entries()));

const moved = (all: ReadonlyMap<number, SheetBox>, moves: IslandMoves): Map<number, SheetBox> =>
  new Map(
    [...all].map(([island, b]) => {
      const { e, f } = moves.get(island)!;
      return [island, { left: b.left + e, right: b.right + e, low: b.low + f, high: b.high + f }];
    }),
  );

describe('arranging islands', () => {
  it('aligned at a side, all lie at the outermost place of it, and moved only that way', () => {
    fc.assert(
      fc.property(boxes, fc.constantFrom('left', 'right', 'low', 'high'), (all, side) => {
        const before = [...all.values()].map((b) => b[side]);
        const to = side === 'left' || side === 'low' ? Math.min(...before) : Math.max(...before);
        for (const [island, b] of moved(all, alignMoves(all, side))) {
          expect(b[side]).toBeCloseTo(to, 12);
          const old = all.get(island)!;
          if (side === 'left' || side === 'right') expect(b.low).toBe(old.low);
          else expect(b.left).toBe(old.left);
        }
      }),
    );
  });

  it('snapped, the lower left corner is a texel’s corner, no more than half a texel away', () => {
    fc.assert(
      fc.property(boxes, fc.constantFrom(64, 512, 4096), (all, size) => {
        for (const [island, b] of moved(all, snapMoves(all, size))) {
          expect(Math.abs(b.left * size - Math.round(b.left * size))).toBeLessThan(1e-6);
          expect(Math.abs(b.low * size - Math.round(b.low * size))).toBeLessThan(1e-6);
          expect(Math.abs(b.left - all.get(island)!.left) * size).toBeLessThanOrEqual(0.5 + 1e-9);
        }
      }),
    );
  });

  it('spread, gaps are equal and what lay outermost stays so', () => {
    fc.assert(
      fc.property(boxes, fc.constantFrom('across', 'upward'), (all, way) => {
        const [from, to] = way === 'across' ? (['left', 'right'] as const) : (['low', 'high'] as const);
        const after = [...moved(all, spreadMoves(all, way)).values()].sort((a, b) => a[from] - b[from]);
        const gaps = after.slice(1).map((b, i) => b[from] - after[i]![to]);
        // Where there is no room, they overlap evenly in the order in which they lay.
        if (!(Math.min(...gaps) > 0)) return;
        for (const g of gaps) expect(g).toBeCloseTo(gaps[0]!, 8);
        const [first, last] = [after[0]!, after.at(-1)!];
        expect(first[from]).toBeCloseTo(Math.min(...[...all.values()].map((b) => b[from])), 8);
        expect(last[to]).toBeCloseTo(Math.max(...[...all.values()].map((b) => b[to])), 8);
      }),
    );
  });

  it('three islands with room between them: the middle one comes to lie in the middle', () => {
    const all = new Map<number, SheetBox>([
      [7, { left: 0.1, right: 0.2, low: 0, high: 0.1 }],
      [3, { left: 0.25, right: 0.45, low: 0, high: 0.1 }],
      [5, { left: 0.8, right: 0.9, low: 0, high: 0.1 }],
    ]);
    const after = moved(all, spreadMoves(all, 'across'));
    expect(after.get(7)!.left).toBeCloseTo(0.1, 12);
    expect(after.get(3)!.left).toBeCloseTo(0.4, 12);
    expect(after.get(5)!.left).toBeCloseTo(0.8, 12);
  });
});
