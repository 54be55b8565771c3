import { sentenceOf } from '../../../core/errors';
import { useProject, type Session } from '../../project';
import { notify } from '../../shared/notify';
import { brushInHand, rememberColor, useUi } from '../../shared/ui-store';
import { ownerOf, showSheetOf, type ToolMaker } from '../../viewport';
import { BrushInput } from './brush-input';
import { BrushRing, type RingPlace } from './BrushRing';
import { paintTarget, strokeOn } from './stroke-style';

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
      hover: (at) => ring.current?.put(at ? { x: at.screenX, y: at.screenY } : null),
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
          const stroke = strokeOn(target, part);
          brush.begin(at.pane, at, stroke, brushInHand(ui).size, surface);
          if (target.channel === 'pixels' && !stroke.style.erase) rememberColor(ui.color);
        } catch (error) {
          notify(sentenceOf(error));
          return 'done';
        }
        showSheetOf(hit);
        return {
          isFine: true,
          move: (to) => brush.move(to),
          end: () => brush.end(),
          cancel: () => brush.cancel(),
        };
      },
      overlay: () => <BrushRing place={ring} />,
    };
  };
