import type { ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { activeView } from './active-view';

export const viewCommands = (): ListedCommand[] => [
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
    id: 'panes',
    title: 'Model, both, sheet: next',
    keys: 'b',
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
];
