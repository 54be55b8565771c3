import { useRef } from 'react';
import { Dropdown } from 'react-bootstrap';
import { FixedMenu } from './FixedMenu';
import { HexColorPicker } from 'react-colorful';
import { colorClipboard } from './color-clipboard';
import { newGesture } from './gesture';
import { useProject } from '../project';
import { TextField } from './TextField';

interface Props {
  readonly label: string;
  readonly color: string;
  readonly onChange: (color: string, gesture: string) => unknown;
}

/** A colour that is chosen on a plane, typed, or taken from the palette. */
export function ColorField({ label, color, onChange }: Props) {
  const palette = useProject((s) => s.document?.palette);
  const gesture = useRef('');
  const begin = (): void => void (gesture.current = newGesture());
  return (
    <Dropdown className="color-field" autoClose="outside">
      <Dropdown.Toggle
        as="button"
        type="button"
        className="color-well"
        aria-label={`${label}: ${color}`}
        {...colorClipboard(color, (pasted: string) => {
          begin();
          onChange(pasted, gesture.current);
        })}
      >
        <i style={{ background: color }} />
        <span>{label}</span>
      </Dropdown.Toggle>
      <FixedMenu renderOnMount={false}>
        <div className="color-pop" onPointerDown={begin}>
          <HexColorPicker color={color} onChange={(c) => onChange(c.toLowerCase(), gesture.current)} />
          <TextField
            value={color}
            aria-label={`${label}, as #rrggbb`}
            onText={(text) => {
              const typed = text.toLowerCase();
              if (!/^#[0-9a-f]{6}$/.test(typed)) return false;
              begin();
              onChange(typed, gesture.current);
            }}
          />
          <div className="color-swatches">
            {palette?.map((s) => (
              <button
                key={s.id}
                type="button"
                title={s.name || s.color}
                aria-label={s.name || `Colour ${s.color}`}
                style={{ background: s.color }}
                onClick={() => {
                  begin();
                  onChange(s.color, gesture.current);
                }}
              />
            ))}
          </div>
        </div>
      </FixedMenu>
    </Dropdown>
  );
}
