import { Dropdown } from 'react-bootstrap';
import { findNode } from '../../core/engine';
import { type Session, useProject } from '../project';
import { useUi } from '../shared/ui-store';
import {
  clearChosen,
  duplicateChosen,
  fillChosen,
  flatten,
  groupChosen,
  mergeDown,
  mergeVisible,
  removeChosen,
  ungroupChosen,
} from './layer-actions';

interface Entry {
  readonly title: string;
  readonly keys?: string;
  readonly disabled?: boolean;
  readonly run: () => unknown;
}

/** What can be done with the chosen layers. */
export function LayerMenu({ session }: { readonly session: Session }) {
  const kind = useProject((s) => {
    const { selectedLayer } = useUi.getState();
    return s.document && selectedLayer !== null
      ? findNode(s.document.layers, selectedLayer)?.kind
      : undefined;
  });
  const count = useUi((s) => (s.selectedLayer === null ? 0 : 1 + s.alsoChosen.size));
  const selected = useUi((s) => s.selectedLayer);
  const none = count === 0 || selected === null;
  const entries: readonly (Entry | null)[] = [
    { title: 'Group', keys: 'Ctrl G', disabled: none, run: () => groupChosen(session) },
    { title: 'Ungroup', keys: 'Ctrl Shift G', disabled: kind !== 'group', run: () => ungroupChosen(session) },
    { title: 'Duplicate', keys: 'Ctrl D', disabled: none, run: () => duplicateChosen(session) },
    { title: 'Merge down', keys: 'Alt Shift ↓', disabled: none, run: () => mergeDown(session) },
    null,
    {
      title: 'Fill with the colour in hand',
      keys: 'Shift G',
      disabled: none,
      run: () => fillChosen(session),
    },
    { title: 'Clear', keys: 'Delete', disabled: none, run: () => clearChosen(session) },
    null,
    { title: 'Merge what shows into a new layer', run: () => mergeVisible(session) },
    { title: 'Flatten', run: () => flatten(session) },
    null,
    { title: 'Remove', keys: 'Shift Delete', disabled: none, run: () => removeChosen(session) },
  ];
  return (
    <Dropdown align="end">
      <Dropdown.Toggle as="button" type="button" className="chip" disabled={none}>
        {count > 1 ? `${count} chosen` : 'Layer'}
      </Dropdown.Toggle>
      <Dropdown.Menu>
        {entries.map((entry, i) =>
          entry ? (
            <Dropdown.Item
              key={entry.title}
              as="button"
              className="with-keys"
              disabled={entry.disabled ?? false}
              onClick={() => void entry.run()}
            >
              {entry.title}
              {entry.keys && <kbd>{entry.keys}</kbd>}
            </Dropdown.Item>
          ) : (
            <Dropdown.Divider key={i} />
          ),
        )}
      </Dropdown.Menu>
    </Dropdown>
  );
}
