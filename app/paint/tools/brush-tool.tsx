import { Vector3 } from 'three';
import { sentenceOf } from '../../../core/errors';
import { roundSample, type BrushedStyle } from '../../../core/paint';
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
import { BrushRing, type RingPlace } from './BrushRing';
import { pulled } from './steady';
import { paintTarget, strokeOn } from './stroke-style';

/** Upward on the picture and toward the eye, in model space; on the sheet the eye stands over the surface. */
function seenFrom(view: StageView, pane: PanePoint['pane'], hit: Hit): Pick<BrushedStyle, 'up' | 'eye'> {
  if (pane === 'sheet') return { up: [0, 1, 0], eye: hit.normal.toArray() };
  const { turn } = view.rig;
  const direction = (x: number, y: number, z: number): [number, number, number] =>
    new Vector3(x, y, z).applyQuaternion(turn).toArray().map(roundSample) as [number, number, number];
  return { up: direction(0, 1, 0), eye: direction(0, 0, 1) };
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
      hover: (at, hit) =>
        ring.current?.put(at && { x: at.screenX, y: at.screenY, diameter: diameterAt(view, at, hit) }),
      press: (at, hit) => {
        if (!hit) return null;
        const { mesh, surface } = useProject.getState();
        if (!surface || !mesh) {
          notify('The surface is still being measured; painting can begin in a moment.');
          return 'done';
        }
        const target = paintTarget();
        if ('refused' in target) {
          const { refused, instead } = target;
          notify(
            refused,
            instead
              ? {
                  label: `Paint on “${instead.name}”`,
                  run: () => useUi.setState({ target: { layer: instead.id, channel: 'pixels' } }),
                }
              : undefined,
          );
          return 'done';
        }
        try {
          const ui = useUi.getState();
          const part = mesh.parts[ownerOf(surface, hit).part]!;
          const seen = seenFrom(view, at.pane, hit);
          const stroke = strokeOn(target, part, hit.face, seen);
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
        return {
          isFine: true,
          move: (to) => {
            const next = pulled(pen, to, useUi.getState().steady);
            ring.current?.pull(penOnScreen(next ?? pen, to), to);
            if (!next) return;
            pen = next;
            brush.move(next);
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
      overlay: () => <BrushRing place={ring} />,
    };
  };
