import { useState } from 'react';
import { Form, Modal } from 'react-bootstrap';
import { Chip } from '../../shared/Chip';
import { useCommandBook, type ListedCommand } from '../../shared/commands';
import { setKeys, useKeyChoices } from '../../shared/key-choices';
import { useUi } from '../../shared/ui-store';
import { keyWords } from './key-words';
import { STAGE_TITLES } from '../stage-words';

/** As react-hotkeys-hook writes a pressed key; null for one that only changes others. */
export function keysPressed(e: {
  readonly code: string;
  readonly key: string;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
  readonly shiftKey: boolean;
}): string | null {
  if (['Control', 'Shift', 'Alt', 'Meta'].includes(e.key)) return null;
  const key = e.code.replace(/^(Key|Digit|Arrow)/, '').toLowerCase();
  return [
    ...(e.ctrlKey || e.metaKey ? ['mod'] : []),
    ...(e.altKey ? ['alt'] : []),
    ...(e.shiftKey ? ['shift'] : []),
    key,
  ].join('+');
}

/** Every command with its keys, which can be changed or taken away. */
export function KeysPage() {
  const open = useUi((s) => s.keysPage);
  const { commands } = useCommandBook();
  const { keys: chosen, onlyWithModifier } = useKeyChoices();
  const [filter, setFilter] = useState('');
  const close = (): void => useUi.setState({ keysPage: false });
  const wanted = filter.trim().toLowerCase();
  const listed = commands.filter((c) => c.title.toLowerCase().includes(wanted));
  return (
    <Modal show={open} onHide={close} scrollable centered aria-labelledby="keys-title" animation={false}>
      <Modal.Body className="keys-page">
        <h2 id="keys-title">Keys</h2>
        <Form.Control
          size="sm"
          type="search"
          placeholder="Find a command"
          aria-label="Find a command"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
        />
        <Form.Check
          id="only-with-modifier"
          type="switch"
          label="Only keys together with Ctrl, Alt or ⌘"
          checked={onlyWithModifier}
          onChange={(e) => useKeyChoices.setState({ onlyWithModifier: e.target.checked })}
        />
        <ul>
          {listed.map((command) => (
            <KeyRow
              key={command.id}
              command={command}
              isChanged={Object.hasOwn(chosen, command.id)}
              holderOf={(keys) =>
                commands.find(
                  (c) =>
                    c.id !== command.id &&
                    c.keys.split(', ').includes(keys) &&
                    (!c.stages || !command.stages || c.stages.some((s) => command.stages!.includes(s))),
                )
              }
            />
          ))}
        </ul>
        <div className="row end">
          <Chip
            disabled={Object.keys(chosen).length === 0}
            onClick={() => useKeyChoices.setState({ keys: {} })}
          >
            All as usual
          </Chip>
          <Chip onClick={close}>Close</Chip>
        </div>
      </Modal.Body>
    </Modal>
  );
}

function KeyRow({
  command,
  isChanged,
  holderOf,
}: {
  readonly command: ListedCommand;
  readonly isChanged: boolean;
  readonly holderOf: (keys: string) => ListedCommand | undefined;
}) {
  const [isWaiting, setWaiting] = useState(false);
  const [told, setTold] = useState('');
  return (
    <li>
      <span>
        {command.title}
        {command.stages && <small> in {command.stages.map((s) => STAGE_TITLES[s]).join(', ')}</small>}
        {told && (
          <small className="told" role="alert">
            {told}
          </small>
        )}
      </span>
      <Chip
        aria-label={`Keys of ${command.title}: ${keyWords(command.keys) || 'none'}`}
        title="Press it, then the new keys; Backspace takes them away, Escape leaves them"
        onClick={() => setWaiting(true)}
        onBlur={() => setWaiting(false)}
        onKeyDown={(e) => {
          if (!isWaiting || e.key === 'Tab') return;
          e.preventDefault();
          e.stopPropagation();
          const keys = keysPressed(e);
          if (keys === null) return;
          setWaiting(false);
          if (e.key === 'Escape') return;
          if (e.key === 'Backspace') {
            setKeys(command.id, '');
            return;
          }
          const holder = holderOf(keys);
          setTold(holder ? `“${holder.title}” has these keys already.` : '');
          if (!holder) setKeys(command.id, keys);
        }}
      >
        {isWaiting ? 'press keys…' : keyWords(command.keys) || '—'}
      </Chip>
      <Chip disabled={!isChanged} title="The usual keys again" onClick={() => setKeys(command.id, null)}>
        Usual
      </Chip>
    </li>
  );
}
