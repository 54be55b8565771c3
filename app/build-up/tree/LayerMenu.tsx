import { Dropdown } from 'react-bootstrap';
import { findNode } from '../../../core/document';
import { useProject } from '../../project';
import { useCommandBook } from '../../shared/commands';
import { FixedMenu } from '../../shared/FixedMenu';
import { useUi } from '../../shared/ui-store';

/** What can be done with the chosen layers: commands by their ids; null for a line between. */
const ENTRIES = [
  ['layer-rename', 'Rename'],
  ['layer-group', 'Group'],
  ['layer-ungroup', 'Ungroup'],
  ['layer-duplicate', 'Duplicate'],
  ['layer-merge', 'Merge down'],
  null,
  ['layer-fill', 'Fill with the colour in hand'],
  ['layer-clear', 'Clear'],
  null,
  ['layer-merge-visible', 'Merge what shows into a new layer'],
  ['layer-flatten', 'Flatten'],
  null,
  ['layer-remove', 'Remove'],
] as const;

/** The menu of the chosen layers. */
export function LayerMenu() {
  const { run, keysOf } = useCommandBook();
  const count = useUi((s) => (s.target ? 1 + s.alsoChosen.size : 0));
  const target = useUi((s) => s.target?.layer);
  const isGroup = useProject((s) => findNode(s.document?.layers ?? [], target ?? -1)?.kind === 'group');
  return (
    <Dropdown align="end">
      <Dropdown.Toggle as="button" type="button" className="chip" disabled={count === 0}>
        {count > 1 ? `${count} chosen` : 'Layer'}
      </Dropdown.Toggle>
      <FixedMenu>
        {ENTRIES.map((entry, i) =>
          entry ? (
            <Dropdown.Item
              key={entry[0]}
              as="button"
              className="with-keys"
              disabled={entry[0] === 'layer-ungroup' && !isGroup}
              onClick={() => run(entry[0])}
            >
              {entry[1]}
              {keysOf(entry[0]) && <kbd>{keysOf(entry[0])}</kbd>}
            </Dropdown.Item>
          ) : (
            <Dropdown.Divider key={i} />
          ),
        )}
      </FixedMenu>
    </Dropdown>
  );
}
