import { at3, looseLine, pointCount, spanCount, type InkLine } from '../../../core/ink';
import { add, cross, dot, length, normalize, sub, type Vec3 } from '../../../core/math';
import { inkLayer } from '../../build-up';
import type { InkPoint } from '../../shared/ink-store';
import { useProject } from '../../project';
import type { Hit, PointerAt, StageView } from '../../viewport';

/** What is so near is meant, pixels. */
const NEAR_POINT = 9;
const NEAR_LINE = 8;

/** Pieces of a span that are looked at. */
const PIECES = 12;

/** Places as the pane has them in which the pointer is, pixels, and where the pointer is among them. */
interface Seen {
  readonly x: number;
  readonly y: number;
  of(p: Vec3): { readonly x: number; readonly y: number };
}

/** How places are seen where the pointer is. On the sheet: laid flat around the place under it; null where nothing is. */
function seenAt(view: StageView, at: PointerAt, hit: Hit | null): Seen | null {
  if (at.pane === 'model') return { x: at.x, y: at.y, of: (p) => view.project(p) };
  const texel = useProject.getState().surface?.sheets[hit?.sheet ?? 0]?.texelLength;
  if (!hit || !texel) return null;
  const pixel = view.unitsPerPixel(at.pane, hit.point, texel);
  const normal = hit.rest.normal.toArray();
  const [right, up] = tangents(normal);
  const from = hit.rest.point.toArray();
  return {
    x: 0,
    y: 0,
    of: (p) => {
      const d = sub(p, from);
      // What lies over or under the surface there is as far as if it lay beside.
      const off = Math.abs(dot(d, normal));
      return { x: (dot(d, right) + off) / pixel, y: (dot(d, up) + off) / pixel };
    },
  };
}

function tangents(normal: Vec3): readonly [Vec3, Vec3] {
  const right = normalize(cross(Math.abs(normal[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0], normal));
  return [right, cross(normal, right)];
}

/** So many pixels before a point the surface hides it. */
const BEFORE = 6;

/** Whether the model lies before a place, as it is seen. */
export function isBehind(view: StageView, p: Vec3): boolean {
  const place = view.shownAt(p);
  const { x, y } = view.rig.project(place);
  const hit = view.pick({ pane: 'model', x, y });
  if (!hit) return false;
  const toward = view.rig.axis(2);
  return hit.point.dot(toward) > place.dot(toward) + BEFORE * view.unitsPerPixel('model', place, 0);
}

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
  hit: Hit | null,
  inHand: InkPoint | null = null,
): FoundPoint | null {
  const seen = seenAt(view, at, hit);
  if (!seen) return null;
  let best: FoundPoint | null = null;
  let least = NEAR_POINT;
  const look = (p: Vec3, found: FoundPoint): void => {
    const { x, y } = seen.of(p);
    const far = Math.hypot(x - seen.x, y - seen.y);
    if (far >= least || (at.pane === 'model' && isBehind(view, p))) return;
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
  hit: Hit | null,
): { readonly line: InkLine; readonly span: number; readonly t: number } | null {
  const seen = seenAt(view, at, hit);
  if (!seen) return null;
  let best: { line: InkLine; span: number; t: number } | null = null;
  let least = NEAR_LINE;
  for (const line of lines) {
    const places = looseLine(line, PIECES).map((p) => seen.of(p));
    for (let i = 0; i + 1 < places.length; i++) {
      const [a, b] = [places[i]!, places[i + 1]!];
      const [dx, dy] = [b.x - a.x, b.y - a.y];
      const l2 = dx * dx + dy * dy;
      const t = l2 > 0 ? Math.min(1, Math.max(0, ((seen.x - a.x) * dx + (seen.y - a.y) * dy) / l2)) : 0;
      const far = Math.hypot(seen.x - a.x - dx * t, seen.y - a.y - dy * t);
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
