import { buildUpCommands } from '../build-up';
import { easelCommands } from '../easel';
import { paintCommands } from '../paint';
import type { Session } from '../project';
import type { ListedCommand } from '../shared/commands';
import { STAGES, useUi, type StageName } from '../shared/ui-store';
import { unwrapCommands } from '../unwrap';
import { viewCommands } from '../viewport';
import { STAGE_TITLES } from './stage-words';

/** Every command of an open project. */
export const allCommands = (session: Session, go: (stage: StageName) => void): ListedCommand[] => [
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
  ...unwrapCommands(),
  ...paintCommands(),
  ...viewCommands(),
  ...easelCommands(),
  ...buildUpCommands(session),
];
