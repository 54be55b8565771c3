import { blockInCommands } from '../block-in';
import { buildUpCommands } from '../build-up';
import { deliverCommands } from '../deliver';
import { easelCommands } from '../easel';
import { formCommands } from '../form';
import { matchCommands } from '../match';
import { modelCommands } from '../model';
import { paintCommands } from '../paint';
import { canCopyToFolder, type Session } from '../project';
import type { ListedCommand } from '../shared/commands';
import { notify } from '../shared/notify';
import { STAGES, useUi, type StageName } from '../shared/ui-store';
import { unwrapCommands } from '../unwrap';
import { viewCommands, type ViewportContext } from '../viewport';
import { toggleColumn } from './frame/Columns';
import { openHandbook } from './dialogs/HandbookDialog';
import { replaceModel } from './replace-model';
import { STAGE_TITLES } from './stage-words';
import { useStoragePage } from './dialogs/StorageDialog';

/** Every command of an open project. @param here the stage that is open */
export const allCommands = (
  session: Session,
  viewport: ViewportContext,
  here: () => StageName,
  go: (stage: StageName) => void,
): ListedCommand[] => [
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
    id: 'keys',
    title: 'Keys: see and change them',
    keys: 'shift+slash',
    run: () => useUi.setState((s) => ({ keysPage: !s.keysPage })),
  },
  {
    id: 'handbook',
    title: 'Handbook, at the page of this stage',
    keys: 'f1',
    run: () => openHandbook(here()),
  },
  {
    id: 'storage',
    title: 'What is kept, where, and what can be freed',
    keys: '',
    run: () => useStoragePage.setState({ open: true }),
  },
  {
    id: 'copy-folder',
    title: 'Keep a copy of the project in a folder…',
    keys: '',
    run: () => {
      if (canCopyToFolder()) void session.folderCopy?.choose();
      else notify('This browser lets no folder be written. Ctrl S saves the project file at any time.');
    },
  },
  {
    id: 'rename-project',
    title: 'Rename the project',
    keys: '',
    run: () => useUi.setState({ renaming: { of: 'project', id: 0 } }),
  },
  {
    id: 'fold-easel',
    title: 'Fold or open the easel',
    keys: 'alt+shift+e',
    run: () => toggleColumn('easel'),
  },
  {
    id: 'fold-side',
    title: 'Fold or open the side column',
    keys: 'alt+shift+s',
    run: () => toggleColumn('side'),
  },
  {
    id: 'replace-model',
    title: 'Replace the model with a newer version',
    keys: '',
    stages: ['model'],
    run: () => replaceModel(session),
  },
  ...modelCommands(session),
  ...unwrapCommands(session, viewport),
  ...blockInCommands(session),
  ...paintCommands(session, viewport),
  ...viewCommands(viewport),
  ...easelCommands(session),
  ...formCommands(session),
  ...buildUpCommands(session),
  ...matchCommands(session, viewport),
  ...deliverCommands(session),
];
