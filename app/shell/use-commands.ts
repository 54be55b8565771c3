import { useMemo, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Session } from '../project';
import type { ListedCommand } from '../shared/commands';
import type { StageName } from '../shared/ui-store';
import { allCommands } from './commands';
import { keepsKey } from './typing';

const keysOf = ({ keys }: ListedCommand): readonly string[] => (keys ? keys.split(', ') : []);

/** Every command of an open project, with its keys bound: a key acts where its command belongs, and nowhere while something is typed. */
export function useCommands(session: Session, stage: StageName, go: (stage: StageName) => void) {
  const goNow = useRef(go);
  goNow.current = go;
  const commands = useMemo(() => allCommands(session, (to) => goNow.current(to)), [session]);
  const keys = useMemo(() => commands.flatMap(keysOf), [commands]);
  useHotkeys(
    keys,
    (event, hotkey) => {
      const pressed = commands.find((c) => keysOf(c).includes(hotkey.hotkey));
      if (!pressed || (pressed.stages && !pressed.stages.includes(stage))) return;
      event.preventDefault();
      pressed.run();
    },
    { preventDefault: false, enableOnFormTags: true, ignoreEventWhen: keepsKey },
    [commands, stage],
  );
  /** Does a command wherever one is: one that belongs elsewhere is gone to first. */
  const run = (id: string): void => {
    const command = commands.find((c) => c.id === id);
    if (!command) return;
    if (command.stages && !command.stages.includes(stage)) go(command.stages[0]!);
    command.run();
  };
  return { commands, run };
}
