import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { HexColorPicker } from 'react-colorful';
import { FixedMenu } from '../shared/FixedMenu';

/** Colours that a set shares, each to be changed here; what was changed holds when its menu is closed. */
export function SharedColors({
  colors,
  onChange,
}: {
  readonly colors: readonly { readonly name: string; readonly color: string }[];
  onChange(index: number, color: string): void;
}) {
  return (
    <span className="shared-colors">
      {colors.map(({ name, color }, i) => (
        <SharedColor key={`${i} ${color}`} name={name} color={color} onChange={(c) => onChange(i, c)} />
      ))}
    </span>
  );
}

function SharedColor({
  name,
  color,
  onChange,
}: {
  readonly name: string;
  readonly color: string;
  onChange(color: string): void;
}) {
  const [isOpen, setOpen] = useState(false);
  const [draft, setDraft] = useState(color);
  const [text, setText] = useState(color);
  const put = (next: string): void => {
    setDraft(next);
    setText(next);
  };
  const toggle = (opens: boolean): void => {
    setOpen(opens);
    if (opens) put(color);
    else if (draft !== color) onChange(draft);
  };
  return (
    <Dropdown autoClose="outside" show={isOpen} onToggle={toggle}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className="shared-color"
        aria-label={`${name}: ${color}`}
        title={name}
        style={{ background: isOpen ? draft : color }}
      />
      <FixedMenu renderOnMount={false}>
        <div className="color-pop">
          <b>{name}</b>
          <HexColorPicker color={draft} onChange={(c) => put(c.toLowerCase())} />
          <input
            value={text}
            aria-label={`${name}, as #rrggbb`}
            onChange={(e) => {
              setText(e.target.value);
              const typed = e.target.value.trim().toLowerCase();
              if (/^#[0-9a-f]{6}$/.test(typed)) setDraft(typed);
            }}
            onKeyDown={(e) => e.key === 'Enter' && toggle(false)}
          />
          <small>Seen in the projects when it is applied to all.</small>
        </div>
      </FixedMenu>
    </Dropdown>
  );
}
