import { Vector3 } from 'three';
import { sentenceOf } from '../../../core/errors';
import { copiesOf, placed, roundSample, type Symmetry } from '../../../core/paint';
import { useProject, type Session } from '../../project';
import { notify } from '../../shared/notify';
import { brushInHand, rememberColor, useUi } from '../../shared/ui-store';
import {
  ownerOf,
  showSheetOf,
  type Hit,
  type PanePoint,
  type PointerAt,
  type StageView,
  type ToolMaker,
} from '../../viewport';
import { BrushInput, brushRadius } from './brush-input';
import { changeSymmetry, usePaint } from '../paint-store';
import { symmetryFor } from '../symmetry';
import { BrushRing, type GhostAt, type RingPlace } from './BrushRing';
import { pulled } from './steady';
import { StrokeMarks } from './film-tool';
import { SymmetryMarks } from './SymmetryMarks';
import { strokeOn, targetOrTold, type Seen } from './stroke-style';
import { movesPicture, ThroughPicture, throughView } from './through';

/** Upward on the picture and toward the eye, in model space; on the sheet the eye stands over the surface. */
function seenFrom(view: StageView, pane: PanePoint['pane'], hit: Hit): Seen {
  if (pane === 'sheet') return { up: [0, 1, 0], eye: hit.normal.toArray(), through: null };
  const { through } = usePaint.getState();
  const { turn } = view.rig;
  const direction = (x: number, y: number, z: number): [number, number, number] =>
    new Vector3(x, y, z).applyQuaternion(turn).toArray().map(roundSample) as [number, number, number];
  return {
    up: direction(0, 1, 0),
    eye: direction(0, 0, 1),
    through: through && throughView(view, through),
  };
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
  const { x, y, z } = hit.point;
  if (sourcing) usePaint.setState({ source: [x, y, z], offset: null, sourcing: false });
  else if (symmetry.placing) changeSymmetry({ place: [x, y, z], about: 'place', placing: false });
  return sourcing || symmetry.placing;
}

/** Escape leaves what waits for a press, then lays the tool down. */
function layDownTool(): boolean {
  const { tool, sourcing, symmetry } = usePaint.getState();
  if (sourcing) usePaint.setState({ sourcing: false });
  else if (symmetry.placing) changeSymmetry({ placing: false });
  else if (tool === 'brush') return false;
  else usePaint.setState({ tool: 'brush' });
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
function ghostsOf(
  view: StageView,
  over: Symmetry | null,
  point: Vector3 | null,
  diameter: number,
): GhostAt[] {
  const pane = view.pane('model');
  if (!over || !point || !pane) return [];
  const { x, y, z } = point;
  return copiesOf(over)
    .slice(1, MOST_GHOSTS + 1)
    .map((copy) => {
      const at = view.rig.project(new Vector3(...placed([x, y, z], copy)));
      return { x: at.x + pane.x, y: at.y, diameter };
    });
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
    return {
      name: 'brush',
      cursor: 'crosshair',
      hover: (at, hit) => {
        const diameter = at ? diameterAt(view, at, hit) : 0;
        ring.current?.put(at && { x: at.screenX, y: at.screenY, diameter });
        if (hit === undefined && at) return;
        const over = hit ? overAt(hit.face) : null;
        ring.current?.ghosts(ghostsOf(view, over, hit?.point ?? null, diameter));
      },
      press: (at, hit) => {
        const { tool, through, movesThrough } = usePaint.getState();
        if (tool === 'through' && through && movesThrough && at.pane === 'model') return movesPicture(at);
        if (!hit) return null;
        const { mesh, surface } = useProject.getState();
        if (!surface || !mesh) {
          notify('The surface is still being measured; painting can begin in a moment.');
          return 'done';
        }
        if (setsPlace(hit)) return 'done';
        const target = targetOrTold();
        if (!target) return 'done';
        try {
          const ui = useUi.getState();
          const owner = ownerOf(surface, hit);
          const part = mesh.parts[owner.part]!;
          const seen = seenFrom(view, at.pane, hit);
          const { x, y, z } = owner.point;
          const stroke = strokeOn(target, part, hit.face, [x, y, z], seen, at.eraser);
          const before = at.shift && at.pane === 'model' && brush.endedAt;
          const from = before ? { ...at, ...view.rig.project(before) } : at;
          brush.begin(at.pane, from, stroke, brushInHand(ui), surface);
          if (before) brush.line(at);
          const { style } = stroke;
          if (target.channel === 'pixels' && style.tool === 'brush' && !style.erase && !ui.glazing) {
            rememberColor(ui.color);
          }
        } catch (error) {
          notify(sentenceOf(error));
          return 'done';
        }
        showSheetOf(hit);
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
      leave: layDownTool,
      overlay: () => (
        <>
          <ThroughPicture session={session} view={view} />
          <SymmetryMarks view={view} />
          <StrokeMarks view={view} />
          <BrushRing place={ring} />
        </>
      ),
    };
  };
