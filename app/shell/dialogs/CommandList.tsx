import { Command } from 'cmdk';
import { useState } from 'react';
import { Modal } from 'react-bootstrap';
import { useUi, type StageName } from '../../shared/ui-store';
import { useCommandBook } from '../../shared/commands';
import { keyWords } from './key-words';
import { STAGE_TITLES } from '../stage-words';

/** Finds every command by a few letters. */
export function CommandList({ stage }: { readonly stage: StageName }) {
  const { commands, run } = useCommandBook();
  const open = useUi((s) => s.commandList);
  // What a command opens keeps the focus; only who chose none gets it back where it was.
  const [isChosen, setChosen] = useState(false);
  const close = (): void => useUi.setState({ commandList: false });
  return (
    <Modal
      show={open}
      onShow={() => setChosen(false)}
      onHide={close}
      restoreFocus={!isChosen}
      className="command-list"
      aria-label="Find a command"
      animation={false}
    >
      <Command loop>
        <Command.Input autoFocus placeholder="What would you like to do?" />
        <Command.List>
          <Command.Empty>No command has these letters.</Command.Empty>
          {commands.map((c) => (
            <Command.Item
              key={c.id}
              value={c.title}
              onSelect={() => {
                setChosen(true);
                close();
                run(c.id);
              }}
            >
              {c.title}
              {c.stages && !c.stages.includes(stage) && <small>in {STAGE_TITLES[c.stages[0]!]}</small>}
              {c.keys && <kbd>{keyWords(c.keys)}</kbd>}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Modal>
  );
}
