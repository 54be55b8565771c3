import { useProject } from '../../project';
import { chooseNoFaces, someFacesChosen, useFaceChoice } from '../../shared/face-choice';
import {
  DrawnLine,
  enclosedOnModel,
  enclosedOnSheet,
  lineGesture,
  showSheetOf,
  type PointerAt,
  type StageView,
  type ToolMaker,
} from '../../viewport';
import { chooseFaces, facesAt } from './choose';

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
        return lineGesture(
          tool,
          at,
          (line) => useFaceChoice.setState({ line }),
          ({ pane, points }, to) =>
            during(to, () => {
              const { faces, cuts } =
                pane === 'model'
                  ? enclosedOnModel(view, now, points, useFaceChoice.getState())
                  : enclosedOnSheet(view, now, points, useFaceChoice.getState());
              chooseFaces(now, faces, cuts);
            }),
        );
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
    overlay: () => <ChosenLine view={view} />,
  };
};

/** The line that is being drawn around faces. */
function ChosenLine({ view }: { readonly view: StageView }) {
  return <DrawnLine view={view} line={useFaceChoice((s) => s.line)} />;
}
