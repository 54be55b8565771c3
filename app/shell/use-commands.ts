import { useMemo, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Session } from '../project';
import type { CommandBook, ListedCommand } from '../shared/commands';
import { useKeyChoices } from '../shared/key-choices';
import { useUi, type StageName } from '../shared/ui-store';
import type { ViewportContext } from '../viewport';
import { allCommands } from './commands';
import { keyWords } from './dialogs/key-words';
import { keepsKey } from './typing';

const keysOf = ({ keys }: ListedCommand): readonly string[] => (keys ? keys.split(', ') : []);

const hasModifier = (keys: string): boolean => /\b(mod|ctrl|alt|meta)\b/.test(keys);

/** Every command of an open project, with its keys bound: a key acts where its command belongs, and nowhere while something is typed. */
export function useCommands(
  session: Session,
  viewport: ViewportContext,
  stage: StageName,
  go: (stage: StageName) => void,
): CommandBook {
  const goNow = useRef(go);
  goNow.current = go;
  const stageNow = useRef(stage);
  stageNow.current = stage;
  const chosen = useKeyChoices((s) => s.keys);
  // Each brush is a command.
  const brushes = useUi((s) => `${s.brushSet} ${s.tray.map((b) => `${b.set}/${b.name}`).join()}`);
  const onlyWithModifier = useKeyChoices((s) => s.onlyWithModifier);
  const commands = useMemo(
    () =>
      allCommands(
        session,
        viewport,
        () => stageNow.current,
        (to) => goNow.current(to),
      ).map((command) => {
        const keys = Object.hasOwn(chosen, command.id) ? chosen[command.id]! : command.keys;
        return { ...command, keys: onlyWithModifier && !hasModifier(keys) ? '' : keys };
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the tray is read when they are made
    [session, viewport, chosen, onlyWithModifier, brushes],
  );
  // A key that two stages have is to be told once.
  const keys = useMemo(() => [...new Set(commands.flatMap(keysOf))], [commands]);
  useHotkeys(
    keys,
    (event, hotkey) => {
      const here = commands.filter((c) => !c.stages || c.stages.includes(stage));
      const pressed = here.find((c) => keysOf(c).includes(hotkey.hotkey));
      if (!pressed) return;
      event.preventDefault();
      pressed.run();
    },
    { preventDefault: false, enableOnFormTags: true, ignoreEventWhen: keepsKey },
    [commands, stage],
  );
  return useMemo(
    () => ({
      commands,
      run: (id) => {
        const command = commands.find((c) => c.id === id);
        if (!command) return;
        if (command.stages && !command.stages.includes(stage)) goNow.current(command.stages[0]!);
        command.run();
      },
      keysOf: (id) => keyWords(commands.find((c) => c.id === id)?.keys ?? ''),
    }),
    [commands, stage],
  );
}
