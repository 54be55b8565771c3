import { useMemo } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import {
  addGroup,
  clearChosen,
  duplicateChosen,
  fillChosen,
  flatten,
  groupChosen,
  mergeDown,
  mergeVisible,
  moveChosen,
  paintOnMask,
  removeChosen,
  toggleClip,
  toggleVisible,
  ungroupChosen,
} from '../build-up';
import { pieceOnSheet, type UvMesh } from '../../core/mesh';
import { type Session, activeNode, activeSheet, useProject } from '../project';
import { useLayout, wholeShells } from '../shared/layout-store';
import { brushInHand, changeBrush, STAGES, useUi, type StageName } from '../shared/ui-store';
import { activeView } from '../viewport';

export interface ListedCommand {
  readonly id: string;
  readonly title: string;
  /** As react-hotkeys-hook writes it; empty for none. */
  readonly keys: string;
  readonly run: () => void;
}

const STAGE_TITLES: Record<StageName, string> = {
  model: 'Model',
  unwrap: 'Unwrap',
  'block-in': 'Block in',
  form: 'Form',
  paint: 'Paint',
  match: 'Match',
  deliver: 'Deliver',
};

/** Changes which islands are chosen. */
function choose(of: (mesh: UvMesh, chosen: ReadonlySet<number>) => Set<number>): void {
  const { mesh } = useProject.getState();
  if (mesh) useLayout.setState(({ chosen }) => ({ chosen: of(mesh, chosen) }));
}

/** Brush sizes grow by about a tenth a step. */
const sized = (factor: number): void =>
  changeBrush({
    size: Math.max(
      1,
      Math.min(500, Math.round(brushInHand(useUi.getState()).size * factor + Math.sign(factor - 1))),
    ),
  });

function listCommands(session: Session, go: (stage: StageName) => void): ListedCommand[] {
  const toggle = (key: 'alone' | 'maskOf'): void =>
    useUi.setState((s) => ({
      alone: null,
      maskOf: null,
      [key]: s[key] === s.selectedLayer ? null : s.selectedLayer,
    }));
  return [
    { id: 'undo', title: 'Undo', keys: 'mod+z', run: () => session.undo() },
    { id: 'redo', title: 'Redo', keys: 'mod+shift+z, mod+y', run: () => session.redo() },
    {
      id: 'find',
      title: 'Find a command',
      keys: 'mod+k',
      run: () => useUi.setState((s) => ({ commandList: !s.commandList })),
    },
    ...STAGES.map((stage, i) => ({
      id: `stage-${stage}`,
      title: `Go to ${STAGE_TITLES[stage]}`,
      keys: `alt+${i + 1}`,
      run: () => go(stage),
    })),
    {
      id: 'choose-linked',
      title: 'Chosen islands: all that hang together with them',
      keys: 'w',
      run: () => choose((mesh, chosen) => wholeShells(mesh, chosen)),
    },
    {
      id: 'choose-all',
      title: 'Choose every island of the sheet',
      keys: 'mod+a',
      run: () => choose((mesh) => new Set(pieceOnSheet(mesh, activeSheet()?.index ?? 0).faces)),
    },
    { id: 'choose-none', title: 'Choose no island', keys: 'mod+shift+a', run: () => choose(() => new Set()) },
    { id: 'smaller', title: 'Smaller brush', keys: 'bracketleft', run: () => sized(1 / 1.1) },
    { id: 'larger', title: 'Larger brush', keys: 'bracketright', run: () => sized(1.1) },
    ...useUi.getState().brushes.map((b, i) => ({
      id: `brush-${i}`,
      title: `Brush: ${b.name}`,
      keys: String(i + 1),
      run: () => useUi.setState({ brush: i }),
    })),
    {
      id: 'pick',
      title: 'Take a colour from the picture',
      keys: 'c',
      run: () => useUi.setState((s) => ({ picking: !s.picking })),
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
    { id: 'look-unlit', title: 'Show unlit', keys: 'u', run: () => useUi.setState({ look: 'unlit' }) },
    { id: 'look-lit', title: 'Show the lit check', keys: 'l', run: () => useUi.setState({ look: 'lit' }) },
    {
      id: 'look-values',
      title: 'Show values',
      keys: 'v',
      run: () => useUi.setState((s) => ({ look: s.look === 'values' ? 'unlit' : 'values' })),
    },
    {
      id: 'look-checker',
      title: 'Show the checker',
      keys: '',
      run: () => useUi.setState({ look: 'checker' }),
    },
    {
      id: 'reference-values',
      title: 'Reference in values only: on or off',
      keys: 'shift+v',
      run: () => useUi.setState((s) => ({ referenceGrey: !s.referenceGrey })),
    },
    {
      id: 'panes',
      title: 'Model, both, sheet: next',
      keys: 'tab',
      run: () =>
        useUi.setState((s) => ({
          panes: s.panes === 'model' ? 'both' : s.panes === 'both' ? 'sheet' : 'model',
        })),
    },
    { id: 'front', title: 'View from the front', keys: 'shift+1', run: () => activeView()?.look('front') },
    { id: 'side', title: 'View from the side', keys: 'shift+2', run: () => activeView()?.look('side') },
    { id: 'top', title: 'View from the top', keys: 'shift+3', run: () => activeView()?.look('top') },
    { id: 'free', title: 'Three-quarter view', keys: 'shift+4', run: () => activeView()?.look('free') },
    { id: 'frame', title: 'Show the whole model', keys: 'f', run: () => activeView()?.frame(null) },
    { id: 'fit-sheet', title: 'Show the whole sheet', keys: 'shift+f', run: () => activeView()?.fitSheet() },
    { id: 'layer-up', title: 'Chosen layer: one higher', keys: 'alt+up', run: () => moveChosen(session, 1) },
    {
      id: 'layer-down',
      title: 'Chosen layer: one lower',
      keys: 'alt+down',
      run: () => moveChosen(session, -1),
    },
    { id: 'layer-hide', title: 'Chosen layers: hide or show', keys: 'h', run: () => toggleVisible(session) },
    { id: 'layer-alone', title: 'Chosen layer: see it alone', keys: 'a', run: () => toggle('alone') },
    { id: 'layer-mask', title: 'Chosen layer: see its mask', keys: 'm', run: () => toggle('maskOf') },
    {
      id: 'layer-paint-mask',
      title: 'Chosen layer: paint on its mask, or on its pixels again',
      keys: 'shift+m',
      run: () => {
        const node = activeNode();
        if (node) void paintOnMask(session, node);
      },
    },
    {
      id: 'mask-hides',
      title: 'On a mask: hide or reveal',
      keys: 'r',
      run: () => useUi.setState((s) => ({ maskHides: !s.maskHides })),
    },
    {
      id: 'layer-clip',
      title: 'Chosen layers: clip to the layer under',
      keys: 'k',
      run: () => toggleClip(session),
    },
    { id: 'layer-new-group', title: 'Add a group', keys: '', run: () => void addGroup(session) },
    {
      id: 'layer-group',
      title: 'Group the chosen layers',
      keys: 'mod+g',
      run: () => void groupChosen(session),
    },
    { id: 'layer-ungroup', title: 'Ungroup', keys: 'mod+shift+g', run: () => ungroupChosen(session) },
    {
      id: 'layer-duplicate',
      title: 'Duplicate the chosen layers',
      keys: 'mod+d',
      run: () => void duplicateChosen(session),
    },
    {
      id: 'layer-merge',
      title: 'Merge the chosen layer down',
      keys: 'mod+e',
      run: () => void mergeDown(session),
    },
    {
      id: 'layer-merge-visible',
      title: 'Merge what shows into a new layer',
      keys: '',
      run: () => void mergeVisible(session),
    },
    { id: 'layer-flatten', title: 'Flatten the build-up', keys: '', run: () => void flatten(session) },
    {
      id: 'layer-fill',
      title: 'Fill the chosen layer with the colour in hand',
      keys: 'shift+g',
      run: () => fillChosen(session),
    },
    { id: 'layer-clear', title: 'Clear the chosen layer', keys: 'delete', run: () => clearChosen(session) },
    {
      id: 'layer-remove',
      title: 'Remove the chosen layers',
      keys: 'shift+delete',
      run: () => removeChosen(session),
    },
  ];
}

/** Every command of an open project, with its keys bound. */
export function useCommands(session: Session, go: (stage: StageName) => void) {
  const commands = useMemo(() => listCommands(session, go), [session]); // eslint-disable-line react-hooks/exhaustive-deps
  const keys = useMemo(() => commands.flatMap((c) => (c.keys ? c.keys.split(', ') : [])), [commands]);
  useHotkeys(
    keys,
    (event, hotkey) => {
      const pressed = commands.find((c) => c.keys.split(', ').includes(hotkey.hotkey));
      // Tab moves the focus once something in the interface has it.
      if (pressed?.id === 'panes' && document.activeElement !== document.body) return;
      if (!pressed) return;
      event.preventDefault();
      pressed.run();
    },
    { preventDefault: false },
    [commands],
  );
  const run = (id: string): void => commands.find((c) => c.id === id)?.run();
  return { commands, run };
}
