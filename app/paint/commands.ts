import { inStages, type ListedCommand } from '../shared/commands';
import type { Brush } from '../shared/brush';
import { notify } from '../shared/notify';
import { brushInHand, changeBrush, swapColors, takeBrush, useUi } from '../shared/ui-store';
import type { Session } from '../project';
import type { ViewportContext } from '../viewport';
import { togglePressure } from './drives';
import { chooseThroughCamera } from './tools/through';
import {
  PAINT_TOOLS,
  PATHS,
  takePath,
  takeBrushTool,
  takeTool,
  toggleSymmetry,
  usePaint,
  type PaintTool,
} from './paint-store';
import { PATH_WORDS, TOOL_WORDS } from './paint-words';

/** Length of the string when it is switched on, pixels. */
export const USUAL_STEADY = 40;

const TOOL_KEYS: Partial<Record<PaintTool, string>> = {
  soften: 't',
  smear: 'w',
  deepen: 'q',
  lift: 'shift+q',
  copy: 'j',
  fill: 'g',
  lasso: 'i',
  ink: 'shift+i',
};

/** The first nine of the set that is shown have a number. */
function numberKey(tray: readonly Brush[], brush: number): string {
  const { brushSet } = useUi.getState();
  const inSet = tray.flatMap((b, i) => (brushSet === null || b.set === brushSet ? [i] : []));
  const at = (inSet.length > 0 ? inSet : [...tray.keys()]).indexOf(brush);
  return at >= 0 && at < 9 ? String(at + 1) : '';
}

/** Brush sizes grow by about a tenth a step. */
const sized = (factor: number): void =>
  changeBrush({
    size: Math.max(
      1,
      Math.min(500, Math.round(brushInHand(useUi.getState()).size * factor + Math.sign(factor - 1))),
    ),
  });

export const paintCommands = (session: Session, viewport: ViewportContext): ListedCommand[] =>
  inStages(
    ['paint'],
    [
      { id: 'smaller', title: 'Smaller brush', keys: 'bracketleft', run: () => sized(1 / 1.1) },
      { id: 'larger', title: 'Larger brush', keys: 'bracketright', run: () => sized(1.1) },
      ...useUi.getState().tray.map((b, i, tray) => ({
        id: `brush-${i}`,
        title: `Brush: ${b.name}`,
        keys: numberKey(tray, i),
        run: () => {
          takeBrush(i);
          takeBrushTool();
        },
      })),
      ...PAINT_TOOLS.map((tool) => ({
        id: `tool-${tool}`,
        title: `Tool: ${TOOL_WORDS[tool][0]}`,
        keys: TOOL_KEYS[tool] ?? '',
        run: () => takeTool(tool),
      })),
      {
        id: 'paint-through-camera',
        title: 'Paint through the reference, as its camera sees the model',
        keys: '',
        run: () => {
          takeTool('through');
          if (viewport.view) return chooseThroughCamera(session, viewport.view);
        },
      },
      {
        id: 'erase',
        title: 'Erase with the brush in hand: on or off; for a moment while it is held',
        keys: 'z',
        run: () => usePaint.setState(({ erasing }) => ({ erasing: !erasing })),
      },
      {
        id: 'symmetry',
        title: 'Symmetry: on or off',
        keys: 'y',
        run: toggleSymmetry,
      },
      ...PATHS.filter((path) => path !== 'free').map((path) => ({
        id: `path-${path}`,
        title: `Strokes: ${PATH_WORDS[path][0].toLowerCase()} or freely`,
        keys: path === 'line' ? 'shift+d' : 'shift+o',
        run: () => takePath(path),
      })),
      {
        id: 'pick',
        title: 'Pick a colour from the picture',
        keys: 'c',
        run: () => useUi.setState((s) => ({ picking: !s.picking })),
      },
      {
        id: 'swap-colors',
        title: 'Swap with the colour before',
        keys: 'd',
        run: () => {
          if (!swapColors()) notify('Paint with two colours first: then they can be swapped.');
        },
      },
      {
        id: 'glaze-back',
        title: 'Glaze back with the local colour: on or off',
        keys: 'o',
        run: () => useUi.setState(({ glazing }) => ({ glazing: !glazing })),
      },
      {
        id: 'steady',
        title: 'Steady strokes: on or off',
        keys: 's',
        run: () => useUi.setState(({ steady }) => ({ steady: steady > 0 ? 0 : USUAL_STEADY })),
      },
      {
        id: 'guard-part',
        title: 'Stay within the part: on or off',
        keys: 'p',
        run: () => useUi.setState((s) => ({ guardPart: !s.guardPart })),
      },
      {
        id: 'guard-near',
        title: 'Stay on the near side: on or off',
        keys: 'n',
        run: () => useUi.setState((s) => ({ guardNear: !s.guardNear })),
      },
      {
        id: 'guard-painted',
        title: 'Stay on what is painted: on or off',
        keys: 'shift+n',
        run: () => useUi.setState((s) => ({ guardPainted: !s.guardPainted })),
      },
      {
        id: 'guard-seen',
        title: 'Stay on what is seen: on or off',
        keys: 'shift+u',
        run: () => useUi.setState((s) => ({ guardSeen: !s.guardSeen })),
      },
      {
        id: 'guard-like',
        title: 'Stay on like colours of the layer: on or off',
        keys: 'shift+b',
        run: () => useUi.setState((s) => ({ guardLike: !s.guardLike })),
      },
      {
        id: 'show-reach',
        title: 'Show what strokes can reach: on or off',
        keys: 'shift+e',
        run: () => usePaint.setState((s) => ({ showsReach: !s.showsReach })),
      },
      {
        id: 'finger-looks',
        title: 'A finger paints, or turns and moves the view',
        keys: '',
        run: () => useUi.setState((s) => ({ fingerLooks: !s.fingerLooks })),
      },
      {
        id: 'pressure-size',
        title: 'Pen pressure changes the size: on or off',
        keys: '',
        run: () => togglePressure('size'),
      },
      {
        id: 'pressure-opacity',
        title: 'Pen pressure changes the opacity: on or off',
        keys: '',
        run: () => togglePressure('opacity'),
      },
      {
        id: 'mask-hides',
        title: 'On a mask: hide or reveal',
        keys: 'r',
        run: () => useUi.setState((s) => ({ maskHides: !s.maskHides })),
      },
    ],
  );
