import { sheetMove, type SheetMove } from '../edit-layout';

/** The box round an island on the sheet, 0..1. */
export interface SheetBox {
  readonly left: number;
  readonly right: number;
  readonly low: number;
  readonly high: number;
}

/** A move for each island, by the number that its box has. */
export type IslandMoves = Map<number, SheetMove>;

const shift = (du: number, dv: number): SheetMove => sheetMove([0, 0], { moveU: du, moveV: dv });

const eachBox = (
  boxes: ReadonlyMap<number, SheetBox>,
  of: (box: SheetBox) => readonly [du: number, dv: number],
): IslandMoves => new Map([...boxes].map(([island, box]) => [island, shift(...of(box))]));

/** All at the outermost place of a side. */
export function alignMoves(boxes: ReadonlyMap<number, SheetBox>, side: keyof SheetBox): IslandMoves {
  const places = [...boxes.values()].map((b) => b[side]);
  const to = side === 'left' || side === 'low' ? Math.min(...places) : Math.max(...places);
  const isAcross = side === 'left' || side === 'right';
  return eachBox(boxes, (b) => (isAcross ? [to - b[side], 0] : [0, to - b[side]]));
}

/** Each with its lower left corner on the nearest texel's corner. @param size texels a side */
export const snapMoves = (boxes: ReadonlyMap<number, SheetBox>, size: number): IslandMoves =>
  eachBox(boxes, (b) => [Math.round(b.left * size) / size - b.left, Math.round(b.low * size) / size - b.low]);

/** Even gaps between the outermost two, which stay; in the order in which they lie. Gaps are less than nothing where there is no room. */
export function spreadMoves(boxes: ReadonlyMap<number, SheetBox>, way: 'across' | 'upward'): IslandMoves {
  const [from, to] = way === 'across' ? (['left', 'right'] as const) : (['low', 'high'] as const);
  const ordered = [...boxes].sort(([, a], [, b]) => a[from] - b[from]);
  const start = Math.min(...ordered.map(([, b]) => b[from]));
  const end = Math.max(...ordered.map(([, b]) => b[to]));
  const taken = ordered.reduce((sum, [, b]) => sum + b[to] - b[from], 0);
  const gap = (end - start - taken) / Math.max(1, ordered.length - 1);
  const out: IslandMoves = new Map();
  let at = start;
  for (const [island, b] of ordered) {
    const by = at - b[from];
    out.set(island, way === 'across' ? shift(by, 0) : shift(0, by));
    at += b[to] - b[from] + gap;
  }
  return out;
}
