import type { Vector3 } from 'three';
import {
  carryLine,
  closeLine,
  fitCurves,
  insertPoint,
  joinLines,
  moveHandle,
  movePoint,
  followLine,
  smoothHandles,
  type Drawn as DrawnLine,
  type InkLine,
  type InkWish,
} from '../../../core/ink';
import { type Vec3, scaleOf, placed } from '../../../core/math';
import { copiesOf } from '../../../core/paint';
import { chosenLines, inkLayer, nextInk, putLines } from '../../build-up';
import { useProject, type Session } from '../../project';
import { newGesture } from '../../shared/gesture';
import { chooseLine, useInk } from '../../shared/ink-store';
import { notify } from '../../shared/notify';
import type { Gesture, Hit, PointerAt, StageView, ToolMaker } from '../../viewport';
import { usePaint } from '../paint-store';
import { symmetryFor } from '../symmetry';
import { InkMarks, preview } from './InkMarks';
import { endNear, lineNear, pointNear } from './ink-near';

/** Two presses within so long on one line put a point in, ms. */
const DOUBLE = 350;

/** A drag begins after so many pixels: before that it is a press. */
const STILL = 4;

const vec = ({ x, y, z }: Vector3): Vec3 => [x, y, z];

/** Draws lines that lie on the surface, and changes them. */
export const inkTool =
  (session: Session): ToolMaker =>
  (view) => {
    let lastPress = { time: -Infinity, line: -1 };
    return {
      name: 'ink',
      cursor: 'crosshair',
      press: (at, hit) => {
        const { mode } = useInk.getState();
        if (mode === 'change') {
          const changed = changing(session, view, at, hit, lastPress);
          lastPress = { time: at.time, line: useInk.getState().chosen[0] ?? -1 };
          return changed;
        }
        if (!hit) return null;
        if (!mayDraw()) return 'done';
        return mode === 'draw' ? drawing(session, view, at, hit) : setting(session, view, at, hit);
      },
      leave: () => {
        const { growing, first, chosen } = useInk.getState();
        if (growing !== null || first) useInk.setState({ growing: null, first: null });
        else if (chosen.length > 0) useInk.setState({ chosen: [], point: null });
        else usePaint.setState({ tool: 'brush' });
        return true;
      },
      overlay: () => <InkMarks view={view} />,
    };
  };

/** Whether a line can be drawn; if not, that is told. */
function mayDraw(): boolean {
  const layer = inkLayer();
  if (!layer || layer.visible) return true;
  notify(`“${layer.name}” is hidden. Show it to draw on it.`);
  return false;
}

/** Follows the hand, then fits curves to it. */
function drawing(session: Session, view: StageView, at: PointerAt, hit: Hit): Gesture {
  const drawn: { at: Vec3[]; press: number[] } = { at: [vec(hit.rest.point)], press: [at.pressure] };
  const seen = [{ x: at.x, y: at.y }];
  const { surface } = useProject.getState();
  const pixel = view.unitsPerPixel(at.pane, hit.point, surface?.sheets[hit.sheet]?.texelLength ?? 1);
  return {
    isFine: true,
    move: (to) => {
      const on = view.pick(to);
      // Over what is no surface the hand may go on, and come back.
      if (!on) return;
      drawn.at.push(vec(on.rest.point));
      drawn.press.push(to.pressure);
      seen.push({ x: to.x, y: to.y });
      preview.show(at.pane, seen);
    },
    end: () => {
      preview.show(at.pane, []);
      void finishDrawing(session, drawn, pixel, hit);
    },
    cancel: () => preview.show(at.pane, []),
  };
}

async function finishDrawing(session: Session, drawn: DrawnLine, pixel: number, hit: Hit): Promise<void> {
  const { tolerance, joins } = useInk.getState();
  const fitted = fitCurves(drawn, tolerance * pixel);
  if (!fitted) return;
  const fresh: InkWish = { ...fitted, id: null, closed: false, style: nextInk() };
  const [first, last] = [drawn.at[0]!, drawn.at.at(-1)!];
  const reach = 10 * pixel;
  const far = (a: Vec3, b: Vec3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  const length = drawn.at.reduce((sum, p, i) => sum + (i ? far(p, drawn.at[i - 1]!) : 0), 0);
  if (far(first, last) < reach && length > 4 * reach) {
    await putAll(session, [closeLine(fresh, true)], [], hit);
    return;
  }
  const ends = joins ? [endNear(first, reach), endNear(last, reach)].filter((line) => line !== null) : [];
  const others = [...new Set(ends)];
  const [one, two] = others;
  if (!one) {
    await putAll(session, [fresh], [], hit);
    return;
  }
  // It goes on from what it meets, and is drawn as that is.
  let joined: InkWish = joinLines<InkWish>(one, fresh);
  if (two) joined = joinLines<InkWish>(joined, two);
  await putAll(session, [joined], two ? [two.id] : [], null);
}

/** Puts lines and, where a symmetry is on, their copies; what is new is chosen. @param hit where they begin; null: no copies */
async function putAll(
  session: Session,
  lines: readonly InkWish[],
  remove: readonly number[],
  hit: Hit | null,
): Promise<void> {
  const { mesh } = useProject.getState();
  const over = hit && mesh && symmetryFor(usePaint.getState().symmetry, mesh, hit.part);
  const ways = over ? copiesOf(over).slice(1) : [];
  const copies = ways.flatMap((way) =>
    lines.map((line) => ({ ...followLine(line, (at) => placed(at, way), scaleOf(way)), id: null })),
  );
  const ids = await putLines(session, [...lines, ...copies], { remove });
  const kept = lines.flatMap(({ id }) => (id === null ? [] : [id]));
  if (ids) useInk.setState({ chosen: [...kept, ...ids], point: null });
}

/** Point after point; a drag pulls the handles of the new one. */
function setting(session: Session, view: StageView, at: PointerAt, hit: Hit): Gesture | 'done' {
  const { growing, first } = useInk.getState();
  const line = inkLayer()?.lines.find((l) => l.id === growing);
  const place = vec(hit.rest.point);
  if (line && line.press.length > 2 && pointNear(view, [line], at, hit)?.index === 0) {
    useInk.setState({ growing: null, first: null });
    void putLines(session, [smoothEnds(closeLine(line, true))]);
    return 'done';
  }
  if (!line && !first) {
    useInk.setState({ first: place, chosen: [] });
    return 'done';
  }
  const gesture = newGesture();
  const index = line ? line.press.length : 1;
  const grown: InkWish = line
    ? withPoint(line, place, at.pressure)
    : withPoint({ ...startOf(first!), id: null }, place, at.pressure);
  const put = putLines(session, [grown], { gesture }).then((ids) => {
    const id = line?.id ?? ids?.[0];
    if (id !== undefined)
      useInk.setState({ growing: id, first: null, chosen: [id], point: { line: id, index } });
    return id;
  });
  return {
    move: (to) => {
      const on = view.pick(to);
      if (!on || Math.hypot(to.x - at.x, to.y - at.y) < STILL) return;
      void put.then((id) => {
        if (id === undefined) return;
        const pulled = moveHandle(grown, index, 'ahead', vec(on.rest.point));
        void putLines(
          session,
          [moveHandle({ ...pulled, id }, index, 'back', mirrored(place, vec(on.rest.point)))],
          {
            gesture,
          },
        );
      });
    },
    end: () => undefined,
    cancel: () => undefined,
  };
}

const mirrored = (about: Vec3, p: Vec3): Vec3 => [
  2 * about[0] - p[0],
  2 * about[1] - p[1],
  2 * about[2] - p[2],
];

const startOf = (first: Vec3): InkWish => ({
  id: null,
  at: [...first],
  ahead: [0, 0, 0],
  back: [0, 0, 0],
  press: [1],
  closed: false,
  style: nextInk(),
});

/** With a point more at its end; the points there are smooth. */
function withPoint<L extends InkWish>(line: L, at: Vec3, press: number): L {
  const grown = {
    ...line,
    at: [...line.at, ...at],
    ahead: [...line.ahead, 0, 0, 0],
    back: [...line.back, 0, 0, 0],
    press: [...line.press, Math.max(0.05, press)],
  };
  const last = grown.press.length - 1;
  return smoothHandles(grown, (i) => i >= last - 1 || grown.press.length === 2);
}

const smoothEnds = <L extends InkLine>(line: L): L =>
  smoothHandles(line, (i) => i === 0 || i === line.press.length - 1);

/** Points, handles and whole lines are dragged; a press chooses. */
function changing(
  session: Session,
  view: StageView,
  at: PointerAt,
  hit: Hit | null,
  before: { readonly time: number; readonly line: number },
): Gesture | 'done' | null {
  const lines = chosenLines();
  const { point } = useInk.getState();
  const found = pointNear(view, lines, at, hit, point);
  if (found) return draggingPoint(session, view, found, at);
  const layer = inkLayer();
  const near = layer && lineNear(view, layer.lines, at, hit);
  if (!layer || !near) {
    useInk.setState({ chosen: [], point: null });
    return null;
  }
  const isChosen = lines.some((line) => line.id === near.line.id);
  if (isChosen && before.line === near.line.id && at.time - before.time < DOUBLE) {
    const index = near.span + 1;
    void putLines(session, [insertPoint(near.line, near.span, near.t)]).then(() =>
      useInk.setState({ point: { line: near.line.id, index } }),
    );
    return 'done';
  }
  if (!isChosen || at.shift) chooseLine(near.line.id, at.shift);
  return hit ? draggingLines(session, view, at, hit) : 'done';
}

function draggingPoint(
  session: Session,
  view: StageView,
  { line, index, handle }: NonNullable<ReturnType<typeof pointNear>>,
  from: PointerAt,
): Gesture {
  const gesture = newGesture();
  useInk.setState({ point: { line: line.id, index } });
  let moved = false;
  return {
    move: (to) => {
      if (!moved && Math.hypot(to.x - from.x, to.y - from.y) < STILL) return;
      const on = view.pick(to);
      if (!on) return;
      moved = true;
      const place = vec(on.rest.point);
      const next = handle ? moveHandle(line, index, handle, place, to.shift) : movePoint(line, index, place);
      void putLines(session, [next], { gesture });
    },
    end: () => undefined,
    cancel: () => {
      if (moved) void putLines(session, [line], { gesture });
    },
  };
}

function draggingLines(session: Session, view: StageView, at: PointerAt, hit: Hit): Gesture {
  const gesture = newGesture();
  const lines = chosenLines();
  const from = { at: vec(hit.rest.point), normal: vec(hit.rest.normal) };
  let moved = false;
  return {
    move: (to) => {
      if (!moved && Math.hypot(to.x - at.x, to.y - at.y) < STILL) return;
      const on = view.pick(to);
      if (!on) return;
      moved = true;
      const place = { at: vec(on.rest.point), normal: vec(on.rest.normal) };
      void putLines(
        session,
        lines.map((line) => carryLine(line, from, place, null)),
        { gesture },
      );
    },
    end: () => undefined,
    cancel: () => {
      if (moved) void putLines(session, lines, { gesture });
    },
  };
}
