import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plansFor, segmentsOf } from './pack-plan';
import { packIslands } from './pack-islands';
import { islandSpans, PackGrid } from './pack-grid';

const SIZE = 48;

/** Edges of a polygon, each with its lower end first. */
function segments(points: readonly (readonly [number, number])[]): Float64Array {
  return Float64Array.from(
    points.flatMap((a, i) => {
      const b = points[(i + 1) % points.length]!;
      return a[1] <= b[1] ? [...a, ...b] : [...b, ...a];
    }),
  );
}

const box = (x: number, y: number, width: number, height: number): Float64Array =>
  segments([
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ]);

/** The same found by trying every place against every cell. */
function findPlainly(
  taken: boolean[][],
  spans: ReturnType<typeof islandSpans>,
  width: number,
  height: number,
  air: number,
) {
  const least = Math.ceil(air);
  for (let y = least; y <= Math.floor(SIZE - air - height); y++) {
    for (let x = least; x <= Math.floor(SIZE - air - width); x++) {
      let free = true;
      for (let r = 0; r < spans.row.length && free; r++) {
        for (let k = spans.from[r]! + x; k <= spans.to[r]! + x; k++)
          if (taken[spans.row[r]! + y]?.[k]) free = false;
      }
      if (free) return { x, y };
    }
  }
  return null;
}

const half = fc.integer({ min: 1, max: 36 }).map((n) => n / 2);

describe('the grid that islands are placed on', () => {
  it('finds the lowest, then leftmost place, as trying all of them does', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(half, half, half, half), { maxLength: 12 }),
        fc.tuple(half, half),
        fc.integer({ min: 0, max: 4 }),
        (boxes, [width, height], reach) => {
          const grid = new PackGrid(SIZE, reach);
          const taken = Array.from({ length: SIZE }, () => new Array<boolean>(SIZE).fill(false));
          for (const [x, y, w, h] of boxes) {
            grid.take(box(x, y, w, h), 1, 0, 0);
            for (let j = Math.floor(y); j <= Math.floor(y + h) && j < SIZE; j++)
              for (let i = Math.floor(x); i <= Math.floor(x + w) && i < SIZE; i++) taken[j]![i] = true;
          }
          const spans = islandSpans(box(0, 0, width, height), 1, reach);
          expect(grid.find(spans, width, height, reach / 4, { from: 0, to: Infinity })).toEqual(
            findPlainly(taken, spans, width, height, reach / 4),
          );
        },
      ),
    );
  });

  it('takes the inside of an outline, but not the hole in it', () => {
    const grid = new PackGrid(SIZE, 0);
    grid.take(Float64Array.of(...box(4, 4, 40, 40), ...box(10, 10, 28, 28)), 1, 0, 0);
    // Only the hole has room for so large a square.
    expect(grid.find(islandSpans(box(0, 0, 20, 20), 1, 0), 20, 20, 0, { from: 0, to: Infinity })).toEqual({
      x: 11,
      y: 11,
    });
    // A full square leaves nothing there.
    grid.take(box(4, 4, 40, 40), 1, 0, 0);
    expect(grid.find(islandSpans(box(0, 0, 20, 20), 1, 0), 20, 20, 0, { from: 0, to: Infinity })).toBeNull();
  });

  it('finds nothing above the height that is of use', () => {
    const grid = new PackGrid(SIZE, 0);
    grid.take(box(0, 0, 47, 20), 1, 0, 0);
    const spans = islandSpans(box(0, 0, 5, 5), 1, 0);
    expect(grid.find(spans, 5, 5, 0, { from: 0, to: 20 })).toBeNull();
    expect(grid.find(spans, 5, 5, 0, { from: 0, to: 21 })).toEqual({ x: 0, y: 21 });
  });

  it('keeps spans of slanted outlines as wide as the outline, and the margin round them', () => {
    const diamond = segments([
      [10, 0],
      [20, 10],
      [10, 20],
      [0, 10],
    ]);
    const { row, from, to } = islandSpans(diamond, 1, 0);
    expect([...row]).toEqual([...Array(21).keys()]);
    row.forEach((y, r) => {
      const below = y < 10 ? y + 1 : 20 - y;
      expect(from[r]).toBe(Math.floor(10 - Math.min(10, below)));
      expect(to[r]).toBe(Math.floor(10 + Math.min(10, below)));
    });
    const wide = islandSpans(diamond, 1, 3);
    expect(Math.min(...wide.row)).toBe(-3);
    expect(Math.min(...wide.from)).toBe(-3);
    expect(Math.max(...wide.to)).toBe(23);
  });
});

describe('many islands that are alike', () => {
  it('are found the same place from where the last one was as from the bottom', () => {
    const grid = new PackGrid(128, 2);
    const other = box(0, 0, 31, 9);
    const kinds = [box(0, 0, 20, 7), box(0, 0, 7, 20)] as const;
    const lowest = [0, 0];
    let placed = 0;
    for (let n = 0; n < 80; n++) {
      const kind = n % 3 === 2 ? 1 : 0;
      const [width, height] = kind ? [7, 20] : [20, 7];
      const spans = islandSpans(kinds[kind], 1, 2);
      const to = Infinity;
      const quick = grid.find(spans, width, height, 0.5, { from: lowest[kind]!, to });
      expect(quick).toEqual(grid.find(spans, width, height, 0.5, { from: 0, to }));
      if (!quick) continue;
      lowest[kind] = quick.y;
      grid.take(n % 7 === 6 ? other : kinds[kind], 1, quick.x, quick.y);
      placed++;
    }
    expect(placed).toBeGreaterThan(40);
  });

  it('share one outline, whatever their number', () => {
    const plank = {
      points: Float64Array.of(0, 0, 3, 0, 3, 1, 0, 1),
      indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
    };
    const shape = () => ({ segments: segmentsOf(plank), weight: 1, angle: 0, area: 3 });
    const [plan] = plansFor([shape(), shape(), { ...shape(), weight: 2 }], true);
    const outlines = new Set(plan!.turned.flat().map((turn) => turn.segments));
    expect(outlines.size).toBe(8);
  });
});

describe('islands that find no room', () => {
  const square = {
    points: Float64Array.of(0, 0, 1, 0, 1, 1, 0, 1),
    indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
  };

  it('are told with a sentence when the margins alone fill the sheet', () => {
    const many = Array.from({ length: 40 }, () => square);
    expect(() => packIslands(many, { size: 256, margin: 120, turn: true })).toThrow(
      expect.objectContaining({ code: 'pack-no-room' }),
    );
  });

  it('are told when what is pinned covers the sheet', () => {
    expect(() => packIslands([square], { size: 256, margin: 8, turn: true, pinned: [square] })).toThrow(
      /pin fewer/,
    );
  });

  it('have room beside pinned ones that lie on one another, however much those are together', () => {
    const small = { ...square, points: square.points.map((x) => x * 0.6) };
    const pinned = [small, small, small, small];
    const { uvs } = packIslands([square], { size: 512, margin: 8, turn: false, pinned });
    const [left, low, right] = [uvs[0]![0]!, uvs[0]![1]!, uvs[0]![2]!];
    expect(Math.max(left, low)).toBeGreaterThan(0.6);
    expect(right - left).toBeGreaterThan(0.3);
  });
});
