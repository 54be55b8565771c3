import type { ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';

export const easelCommands = (): ListedCommand[] => [
  {
    id: 'reference-values',
    title: 'Reference in values only: on or off',
    keys: 'shift+v',
    run: () => useUi.setState((s) => ({ referenceGrey: !s.referenceGrey })),
  },
];
