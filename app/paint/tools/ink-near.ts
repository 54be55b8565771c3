import { Vector3 } from 'three';
import { at3, looseLine, pointCount, spanCount, type InkLine } from '../../../core/engine';
import { add, length, sub, type Vec3 } from '../../../core/math';
import { inkLayer } from '../../build-up';
import type { InkPoint } from '../../shared/ink-store';
import type { PointerAt, StageView } from '../../viewport';

/** What is so near is meant, pixels. */
const NEAR_POINT = 9;
const NEAR_LINE = 8;

/** Pieces of a span that are looked at. */
const PIECES = 12;

const seen = (view: StageView, [x, y, z]: Vec3): { x: number; y: number } =>
  view.rig.project(new Vector3(x, y, z));

interface FoundPoint {
  readonly line: InkLine;
  readonly index: number;
  readonly handle: 'ahead' | 'back' | null;
}

/** The point of lines, or the handle of the point in hand, on which the pointer is. */
export function pointNear(
  view: StageView,
  lines: readonly InkLine[],
  at: PointerAt,
  inHand: InkPoint | null = null,
): FoundPoint | null {
  if (at.pane !== 'model') return null;
  let best: FoundPoint | null = null;
  let least = NEAR_POINT;
  const look = (p: Vec3, found: FoundPoint): void => {
    const { x, y } = seen(view, p);
    const far = Math.hypot(x - at.x, y - at.y);
    if (far >= least) return;
    least = far;
    best = found;
  };
  for (const line of lines) {
    for (let i = 0; i < pointCount(line); i++) look(at3(line.at, i), { line, index: i, handle: null });
    if (inHand?.line !== line.id) continue;
    for (const handle of handlesOf(line, inHand.index)) {
      look(handle.at, { line, index: inHand.index, handle: handle.side });
    }
  }
  return best;
}

/** Where the handles of a point end, those that have a length. */
export function handlesOf(
  line: InkLine,
  index: number,
): { readonly side: 'ahead' | 'back'; readonly at: Vec3 }[] {
  if (index >= pointCount(line)) return [];
  return (['ahead', 'back'] as const)
    .map((side) => ({ side, handle: at3(line[side], index) }))
    .filter(({ handle }) => length(handle) > 0)
    .map(({ side, handle }) => ({ side, at: add(at3(line.at, index), handle) }));
}

/** The line on which the pointer is, the uppermost first, and where on it. */
export function lineNear(
  view: StageView,
  lines: readonly InkLine[],
  at: PointerAt,
): { readonly line: InkLine; readonly span: number; readonly t: number } | null {
  if (at.pane !== 'model') return null;
  let best: { line: InkLine; span: number; t: number } | null = null;
  let least = NEAR_LINE;
  for (const line of lines) {
    const places = looseLine(line, PIECES).map((p) => seen(view, p));
    for (let i = 0; i + 1 < places.length; i++) {
      const [a, b] = [places[i]!, places[i + 1]!];
      const [dx, dy] = [b.x - a.x, b.y - a.y];
      const l2 = dx * dx + dy * dy;
      const t = l2 > 0 ? Math.min(1, Math.max(0, ((at.x - a.x) * dx + (at.y - a.y) * dy) / l2)) : 0;
      const far = Math.hypot(at.x - a.x - dx * t, at.y - a.y - dy * t);
      if (far > least) continue;
      least = far;
      const span = Math.min(spanCount(line) - 1, Math.floor(i / PIECES));
      best = { line, span, t: Math.min(0.98, Math.max(0.02, (i % PIECES) / PIECES + t / PIECES)) };
    }
  }
  return best;
}

/** An open line of the layer in hand one of whose ends lies near a place. */
export function endNear(place: Vec3, reach: number): InkLine | null {
  let best: InkLine | null = null;
  let least = reach;
  for (const line of inkLayer()?.lines ?? []) {
    if (line.closed) continue;
    for (const end of [0, pointCount(line) - 1]) {
      const far = length(sub(at3(line.at, end), place));
      if (far >= least) continue;
      least = far;
      best = line;
    }
  }
  return best;
}
