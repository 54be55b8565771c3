import { Vector3 } from 'three';
import { sentenceOf } from '../../../core/errors';
import { isRoomless } from '../../../core/mesh';
import { texelOnSheet } from '../../../core/surface';
import type { StrokeBegin } from '../../../workers';
import { copiesOf, roundSample, type Symmetry } from '../../../core/paint';
import { placed } from '../../../core/math';
import { onRampSays, poseInHand, useProject, type Session } from '../../project';
import { useBoardTaker } from '../../shared/board-taker';
import { notify } from '../../shared/notify';
import { brushInHand, rememberColor, useUi, type EditTarget } from '../../shared/ui-store';
import {
  showSheetOf,
  type Hit,
  type PanePoint,
  type PointerAt,
  type StageView,
  type ToolMaker,
} from '../../viewport';
import { BrushInput, brushRadius, type PenAt } from './brush-input';
import { changeSymmetry, usePaint } from '../paint-store';
import { symmetryFor } from '../symmetry';
import { BrushRing, type GhostAt, type RingPlace } from './BrushRing';
import { pulled } from './steady';
import { StrokeMarks } from './film-tool';
import { SymmetryMarks } from './SymmetryMarks';
import { paintTarget, strokeOn, targetOrTold, type Seen } from './stroke-style';
import { ReachShown, ReachWatch } from './reach';
import { bending, RuledLine, ruledGesture } from './ruled-tool';
import { movesPicture, referenceView, seenView, ThroughPicture, throughView } from './through';

/** Upward on the picture and toward the eye, in model space; on the sheet the eye stands over the surface. */
function seenFrom(view: StageView, at: PointerAt, hit: Hit): Seen {
  const texel = texelUnder(hit);
  if (at.pane === 'sheet') {
    const eye = hit.normal.toArray();
    return { up: [0, 1, 0], eye, through: null, reference: null, seen: null, texel, pose: poseInHand() };
  }
  const { through, source } = usePaint.getState();
  const { mesh } = useProject.getState();
  const { turn } = view.rig;
  const direction = (x: number, y: number, z: number): [number, number, number] =>
    new Vector3(x, y, z).applyQuaternion(turn).toArray().map(roundSample) as [number, number, number];
  return {
    up: direction(0, 1, 0),
    eye: direction(0, 0, 1),
    through: through && throughView(view, through),
    reference:
      typeof source === 'object' && source !== null && 'reference' in source
        ? referenceView(view, at, source)
        : null,
    seen: mesh && seenView(view, mesh),
    texel,
    pose: poseInHand(),
  };
}

/** The texel under the pointer, by its number among all. */
function texelUnder({ sheet: number, u, v }: Hit): number {
  const sheet = useProject.getState().surface!.sheets[number]!;
  const on = (x: number): number => Math.min(sheet.size - 1, Math.floor((x - Math.floor(x)) * sheet.size));
  return texelOnSheet(sheet, on(u), on(1 - v));
}

/** Where the pen is in the whole picture, while the pointer is on the same pane. */
const penOnScreen = (pen: PanePoint, pointer: PointerAt): { x: number; y: number } => ({
  x: pointer.screenX + pen.x - pointer.x,
  y: pointer.screenY + pen.y - pointer.y,
});

/** How wide the brush is at a place, pixels. */
function diameterAt(view: StageView, at: PanePoint, hit: Hit | null | undefined): number {
  const brush = brushInHand(useUi.getState());
  const { surface } = useProject.getState();
  if (brush.unit === 'pixels' || !hit || !surface) return brush.size;
  const { texelLength } = surface.sheets[hit.sheet]!;
  const { x, y, z } = hit.point;
  return (
    (2 * brushRadius(brush, surface, texelLength)) /
    view.unitsPerPixel(at.pane, new Vector3(x, y, z), texelLength)
  );
}

/** A press that only sets a place: from where is copied, or where the symmetry stands. @returns whether it was one */
function setsPlace(hit: Hit): boolean {
  const { sourcing, symmetry } = usePaint.getState();
  if (sourcing === 'model') {
    usePaint.setState({ source: hit.point.toArray(), offset: null, sourcing: null });
    return true;
  }
  if (!symmetry.placing) return false;
  const { point, normal } = hit.rest;
  changeSymmetry({ place: point.toArray(), normal: normal.toArray(), about: 'place', placing: false });
  return true;
}

/** Escape leaves what waits for a press, then lays the tool down. */
function layDownTool(): boolean {
  const { tool, sourcing, symmetry, path } = usePaint.getState();
  if (sourcing) {
    usePaint.setState({ sourcing: null });
    useBoardTaker.setState({ take: null });
  } else if (symmetry.placing) changeSymmetry({ placing: false });
  else if (tool !== 'brush') usePaint.setState({ tool: 'brush' });
  else if (path !== 'free') usePaint.setState({ path: 'free' });
  else return false;
  return true;
}

/** So many copies are shown at the most. */
const MOST_GHOSTS = 24;

/** What a stroke that begins on a triangle is to be made over. */
function overAt(face: number): Symmetry | null {
  const { mesh } = useProject.getState();
  return mesh && symmetryFor(usePaint.getState().symmetry, mesh, mesh.faceParts[face]!);
}

/** Where the copies of a place are seen, in the whole picture. */
function ghostsOf(view: StageView, over: Symmetry | null, rest: Vector3 | null, diameter: number): GhostAt[] {
  const pane = view.pane('model');
  if (!over || !rest || !pane) return [];
  const { x, y, z } = rest;
  return copiesOf(over)
    .slice(1, MOST_GHOSTS + 1)
    .map((copy) => {
      const at = view.project(placed([x, y, z], copy));
      return { x: at.x + pane.x, y: at.y, diameter };
    });
}

/** A stroke that can begin where the pointer is; if none can, that is told. */
function strokeAt(view: StageView, at: PointerAt, hit: Hit): StrokeBegin | null {
  const { mesh, surface } = useProject.getState();
  if (!surface || !mesh) {
    notify('The surface is still being measured; painting can begin in a moment.');
    return null;
  }
  const target = targetOrTold();
  if (!target) return null;
  if (isRoomless(mesh, hit.face)) {
    notify(
      'This place takes no room on its sheet, so nothing can be painted here. Lay the model out in Unwrap.',
    );
    return null;
  }
  const onRamp = onRampSays(hit.face);
  if (onRamp) {
    notify(onRamp);
    return null;
  }
  try {
    return strokeFrom(view, at, hit, target, false);
  } catch (error) {
    notify(sentenceOf(error));
    return null;
  }
}

/** The same to ask where it could come; nothing is told if there is none. */
function trialAt(view: StageView, at: PointerAt, hit: Hit): StrokeBegin | null {
  const target = paintTarget();
  const { surface } = useProject.getState();
  return 'refused' in target || !surface ? null : strokeFrom(view, at, hit, target, true);
}

/** @throws CoreError as `strokeOn` */
function strokeFrom(
  view: StageView,
  at: PointerAt,
  hit: Hit,
  target: EditTarget,
  isTrial: boolean,
): StrokeBegin {
  const { mesh } = useProject.getState();
  const seen = seenFrom(view, at, hit);
  return strokeOn(target, mesh!.parts[hit.part]!, hit, seen, at.eraser, isTrial);
}

/** A colour that was laid is remembered. */
function rememberPainted({ channel, style }: StrokeBegin): void {
  const { color, glazing } = useUi.getState();
  if (channel === 'pixels' && style.tool === 'brush' && !style.erase && !glazing) rememberColor(color);
}

/** Paints on the model or on the sheet with the brush in hand. */
export const brushTool =
  (session: Session): ToolMaker =>
  (view) => {
    const ring: { current: RingPlace | null } = { current: null };
    const brush = new BrushInput(view, {
      begin: (stroke) => session.strokeBegin(stroke),
      extend: (samples, lift) => session.strokeExtend(samples, lift),
      end: () => session.strokeEnd(),
      cancel: () => session.strokeCancel(),
    });
    const begin = (at: PointerAt, from: PenAt, stroke: StrokeBegin): void => {
      brush.begin(at.pane, from, stroke, brushInHand(useUi.getState()), useProject.getState().surface!);
      rememberPainted(stroke);
    };
    /** A stroke along points, all at once. */
    const along = (at: PointerAt, points: readonly { x: number; y: number }[], stroke: StrokeBegin): void => {
      const [first, ...others] = points.map((point) => ({ ...at, ...point }));
      if (!first) return;
      begin(at, first, stroke);
      for (const point of others) brush.line(point);
      brush.end();
    };
    const reach = new ReachWatch(session, view, (at, hit) => trialAt(view, at, hit));
    return {
      name: 'brush',
      cursor: 'crosshair',
      hover: (at, hit) => {
        const diameter = at ? diameterAt(view, at, hit) : 0;
        ring.current?.put(at && { x: at.screenX, y: at.screenY, diameter });
        bending.hover(at);
        if (hit === undefined && at) return;
        reach.hover(at, hit ?? null);
        const over = hit ? overAt(hit.face) : null;
        ring.current?.ghosts(ghostsOf(view, over, hit?.rest.point ?? null, diameter));
      },
      press: (at, hit) => {
        const { tool, through, movesThrough, path } = usePaint.getState();
        if (tool === 'through' && through && movesThrough && at.pane === 'model') return movesPicture(at);
        if (bending.press(at, along)) return 'done';
        if (!hit) return null;
        if (setsPlace(hit)) return 'done';
        const stroke = strokeAt(view, at, hit);
        if (!stroke) return 'done';
        reach.clear();
        showSheetOf(hit);
        if (path !== 'free') return ruledGesture(path, at, (points) => along(at, points, stroke), stroke);
        const before = at.shift && at.pane === 'model' && brush.endedAt;
        begin(at, before ? { ...at, ...view.rig.project(before) } : at, stroke);
        if (before) brush.line(at);
        let pen: PointerAt = at;
        const over = overAt(hit.face);
        const diameter = diameterAt(view, at, hit);
        return {
          isFine: true,
          move: (to) => {
            const next = pulled(pen, to, useUi.getState().steady);
            ring.current?.pull(penOnScreen(next ?? pen, to), to);
            if (!next) return;
            pen = next;
            brush.move(next);
            if (over) ring.current?.ghosts(ghostsOf(view, over, brush.under, diameter));
          },
          end: (to) => {
            // The pen catches up.
            if (pen.x !== to.x || pen.y !== to.y) brush.move(to);
            ring.current?.pull(null, to);
            brush.end();
          },
          cancel: () => {
            ring.current?.pull(null, at);
            brush.cancel();
          },
        };
      },
      leave: () => bending.leave() || layDownTool(),
      overlay: () => (
        <>
          <ThroughPicture session={session} view={view} />
          <SymmetryMarks view={view} />
          <StrokeMarks view={view} />
          <RuledLine view={view} />
          <ReachShown watch={reach} />
          <BrushRing place={ring} />
        </>
      ),
    };
  };
