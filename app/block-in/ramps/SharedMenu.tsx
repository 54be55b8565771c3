import { sentenceOf } from '../../../core/errors';
import { notify } from '../../shared/notify';
import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { type Session, useProject } from '../../project';
import { FixedMenu } from '../../shared/FixedMenu';
import { openShared, sharedSheets, shareSheet, type SharedSheet } from './shared-sheets';

/** Shares the sheet with other projects, or takes a shared one. */
export function SharedMenu({ session }: { readonly session: Session }) {
  const ramps = useProject((s) => s.document?.ramps) ?? null;
  const [sheets, setSheets] = useState<readonly SharedSheet[]>([]);
  const own = ramps?.shared ?? null;
  return (
    <Dropdown
      drop="up"
      onToggle={(isOpen) =>
        isOpen && void sharedSheets().then(setSheets, (error: unknown) => notify(sentenceOf(error)))
      }
    >
      <Dropdown.Toggle as="button" type="button" className="chip">
        Shared sheets
      </Dropdown.Toggle>
      <FixedMenu>
        {ramps && !own && (
          <Dropdown.Item
            as="button"
            onClick={() => {
              const { document } = useProject.getState();
              void shareSheet(session, `${document?.name ?? 'Ramps'} ramps`.slice(0, 60));
            }}
          >
            Share this one
            <small>other projects can open it</small>
          </Dropdown.Item>
        )}
        {own && (
          <Dropdown.Item as="button" onClick={() => void session.command({ do: 'set-ramps', shared: null })}>
            Keep it for this project alone
            <small>what others do to “{own.name}” doesn’t show here any more</small>
          </Dropdown.Item>
        )}
        {sheets
          .filter((sheet) => sheet.id !== own?.id)
          .map((sheet) => (
            <Dropdown.Item key={sheet.id} as="button" onClick={() => void openShared(session, sheet)}>
              {sheet.name}
              <small>{sheet.ramps.length} ramps</small>
            </Dropdown.Item>
          ))}
        {sheets.length === 0 && <Dropdown.ItemText>No sheet is shared yet.</Dropdown.ItemText>}
      </FixedMenu>
    </Dropdown>
  );
}
