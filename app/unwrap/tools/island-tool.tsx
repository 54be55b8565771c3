import { IDENTITY_MOVE, sheetMove, type SheetMove } from '../../../core/unwrap';
import { type Session, useForm } from '../../project';
import { useLayout } from '../../shared/layout-store';
import { showSheetOf, type PointerAt, type StageView, type ToolMaker } from '../../viewport';
import { moveChosen } from '../layout-actions';
import { ArrangeFrame } from './ArrangeFrame';
import { PinMarks } from './PinMarks';
import { pickLayout } from './seam-drawing';

/** A drag of less than this is a click, pixels. */
const STILL = 2;

/** How far the islands go; with Shift by whole texels. */
function moveBetween(view: StageView, from: PointerAt, to: PointerAt): SheetMove {
  const { sheetSize, flat } = view;
  const by = (pixels: number): number => {
    const moved = pixels / flat.pixels;
    return to.shift ? Math.round(moved * sheetSize) / sheetSize : moved;
  };
  return sheetMove([0, 0], { moveU: by(to.x - from.x), moveV: by(from.y - to.y) });
}

/** Chooses islands in either view; chosen ones are dragged on the sheet, turned and scaled by a frame. */
export const islandTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'island',
    cursor: 'pointer',
    press: (at, hit) => {
      const { chosen } = useLayout.getState();
      if (at.pane === 'sheet' && hit && !at.shift && chosen.has(hit.face)) {
        return {
          move: (to) => view.moveChosen(moveBetween(view, at, to)),
          end: (to) => {
            view.moveChosen(IDENTITY_MOVE);
            if (Math.hypot(to.x - at.x, to.y - at.y) < STILL) return;
            void moveChosen(session, 'Move islands', moveBetween(view, at, to));
          },
          cancel: () => view.moveChosen(IDENTITY_MOVE),
        };
      }
      showSheetOf(hit);
      void pickLayout(session, hit, at.shift);
      return null;
    },
    leave: () => {
      if (useLayout.getState().chosen.size === 0) return false;
      useLayout.setState({ chosen: new Set() });
      return true;
    },
    overlay: () => (
      <>
        <PinMarks view={view} />
        <Frame view={view} session={session} />
      </>
    ),
  });

function Frame({ view, session }: { readonly view: StageView; readonly session: Session }) {
  const mesh = useForm();
  const preview = useLayout((s) => s.preview);
  if (!mesh || preview) return null;
  return (
    <ArrangeFrame view={view} mesh={mesh} onMove={(label, move) => void moveChosen(session, label, move)} />
  );
}
