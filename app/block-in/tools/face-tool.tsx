import { useProject } from '../../project';
import { chooseNoFaces, someFacesChosen, useFaceChoice } from '../../shared/face-choice';
import { showSheetOf, type PointerAt, type ToolMaker } from '../../viewport';
import { chooseFaces, chooseWithin, chooseWithinSheet, facesAt } from './choose';
import { DrawnLine } from './DrawnLine';

/** Points of a drawn line stand at least this far apart, pixels. */
const STEP = 3;

const corners = ([ax, ay]: readonly [number, number], b: PointerAt): (readonly [number, number])[] => [
  [ax, ay],
  [b.x, ay],
  [b.x, b.y],
  [ax, b.y],
];

/** Chooses faces: by a press, brushing over them, or with a line around them. Shift, for once, takes off. */
export const faceTool: ToolMaker = (view) => {
  const mesh = () => useProject.getState().mesh;
  /** Whether a press takes off: as is set, or the other way round with Shift. */
  const during = (at: PointerAt, act: () => void): void => {
    const { takesOff } = useFaceChoice.getState();
    if (!at.shift) {
      act();
      return;
    }
    useFaceChoice.setState({ takesOff: !takesOff });
    act();
    useFaceChoice.setState({ takesOff });
  };
  return {
    name: 'faces',
    cursor: 'crosshair',
    press: (at, hit) => {
      const { tool } = useFaceChoice.getState();
      const now = mesh();
      if (!now) return null;
      if (tool === 'lasso' || tool === 'rectangle') {
        const { pane } = at;
        const points: (readonly [number, number])[] = [[at.x, at.y]];
        const show = (to: PointerAt): void =>
          useFaceChoice.setState({
            line: { pane, points: tool === 'rectangle' ? corners(points[0]!, to) : [...points] },
          });
        show(at);
        return {
          isFine: true,
          move: (to) => {
            const [x, y] = points.at(-1)!;
            if (tool === 'lasso' && Math.hypot(to.x - x, to.y - y) >= STEP) points.push([to.x, to.y]);
            show(to);
          },
          end: (to) => {
            const line = useFaceChoice.getState().line?.points ?? [];
            useFaceChoice.setState({ line: null });
            during(to, () =>
              pane === 'model' ? chooseWithin(view, now, line) : chooseWithinSheet(view, now, line),
            );
          },
          cancel: () => useFaceChoice.setState({ line: null }),
        };
      }
      if (!hit) return null;
      showSheetOf(hit);
      const before = useFaceChoice.getState();
      during(at, () => chooseFaces(now, facesAt(now, hit.face)));
      if (tool !== 'brush') return 'done';
      return {
        isFine: true,
        move: (to) => {
          const next = view.pick(to);
          if (next) during(to, () => chooseFaces(now, [next.face]));
        },
        end: () => undefined,
        cancel: () => useFaceChoice.setState({ faces: before.faces, cuts: before.cuts }),
      };
    },
    leave: () => {
      const state = useFaceChoice.getState();
      if (someFacesChosen(state)) chooseNoFaces();
      else if (state.tool === 'part') return false;
      else useFaceChoice.setState({ tool: 'part' });
      return true;
    },
    overlay: () => <DrawnLine view={view} />,
  };
};
