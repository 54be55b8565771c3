import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { BLEND_MODES, type BlendMode } from '../../../core/composite';
import type { LayerNode } from '../../../core/document';
import type { Session } from '../../project';
import { FixedMenu } from '../../shared/FixedMenu';

const word = (mode: BlendMode): string => mode.replace('-', ' ');

/** The blend mode; pointing at one shows the picture with it. */
export function BlendChoice({ session, node }: { readonly session: Session; readonly node: LayerNode }) {
  const [open, setOpen] = useState(false);
  const show = (blend: BlendMode | null): void => session.preview(node.id, blend && { blend });
  return (
    <Dropdown
      className="blend"
      show={open}
      onToggle={(next) => {
        setOpen(next);
        if (!next) show(null);
      }}
    >
      <Dropdown.Toggle
        as="button"
        type="button"
        className="chip blend-toggle"
        aria-label={`Blend mode: ${word(node.blend)}`}
      >
        {word(node.blend)}
      </Dropdown.Toggle>
      <FixedMenu
        className="blend-menu"
        role="listbox"
        aria-label="Blend mode"
        onMouseLeave={() => show(null)}
      >
        {BLEND_MODES.map((mode) => (
          <Dropdown.Item
            key={mode}
            as="button"
            role="option"
            active={mode === node.blend}
            onMouseEnter={() => show(mode)}
            onFocus={() => show(mode)}
            onClick={() =>
              void session.command({ do: 'patch-layer', layer: node.id, patch: { blend: mode } })
            }
          >
            {word(mode)}
          </Dropdown.Item>
        ))}
      </FixedMenu>
    </Dropdown>
  );
}
