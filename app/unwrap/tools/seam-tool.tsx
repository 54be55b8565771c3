import type { Session } from '../../project';
import { useLayout } from '../../shared/layout-store';
import { showSheetOf, type ToolMaker } from '../../viewport';
import { PinMarks } from './PinMarks';
import { seamHover, pickLayout } from './seam-drawing';

/** Marks seams along the edges of the model, or unmarks them. */
export const seamTool =
  (session: Session): ToolMaker =>
  (view) => {
    const showAhead = seamHover();
    return {
      name: 'seam',
      cursor: 'crosshair',
      hover: (_, hit) => {
        if (hit !== undefined) showAhead(hit);
      },
      press: (at, hit) => {
        showSheetOf(hit);
        void pickLayout(session, hit, at.shift);
        return hit ? 'done' : null;
      },
      overlay: () => <PinMarks view={view} />,
      leave: () => {
        const { from } = useLayout.getState();
        if (from === null) return false;
        useLayout.setState({ from: null, ahead: [] });
        return true;
      },
    };
  };
