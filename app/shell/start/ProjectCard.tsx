import { useEffect, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { duplicateProject, storageError, type ProjectRow } from '../../../storage';
import { notify } from '../../shared/notify';
import { store } from '../../shared/platform';
import { RenameField } from '../../shared/RenameField';

/** A project on the start page, with what can be done to it there. */
export function ProjectCard({ row, onOpen }: { readonly row: ProjectRow; readonly onOpen: () => void }) {
  const [picture, setPicture] = useState('');
  const [renaming, setRenaming] = useState(false);
  useEffect(() => {
    if (!row.picture) return;
    const url = URL.createObjectURL(row.picture);
    setPicture(url);
    return () => URL.revokeObjectURL(url);
  }, [row.picture]);
  // Closing the menu gives the focus back to its button; the field takes it after that.
  const beginRenaming = (): void => void setTimeout(() => setRenaming(true));
  const remove = async (): Promise<void> => {
    await store.projects.update(row.id, { deletedAt: Date.now() });
    notify(`“${row.name}” was deleted.`, {
      label: 'Undo',
      run: () => void store.projects.update(row.id, { deletedAt: null }),
    });
  };
  const rename = async (name: string | null): Promise<void> => {
    setRenaming(false);
    if (name) await store.projects.update(row.id, { name, document: { ...(row.document as object), name } });
  };
  const guard = (work: Promise<void>): void =>
    void work.catch((e: unknown) => notify(storageError(e).message));
  return (
    <li className="project-card">
      <button type="button" className="project-picture" onClick={onOpen} aria-label={`Open ${row.name}`}>
        {picture ? <img src={picture} alt="" /> : <span>no picture yet</span>}
      </button>
      <div className="project-line">
        {renaming ? (
          <RenameField
            name={row.name}
            label="Name of the project"
            most={120}
            onDone={(name) => guard(rename(name))}
          />
        ) : (
          <b>{row.name}</b>
        )}
        <small>{whenWords(row.updatedAt, Date.now())}</small>
        <Dropdown align="end">
          <Dropdown.Toggle as="button" type="button" className="chip" aria-label={`More for ${row.name}`}>
            More
          </Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item as="button" onClick={beginRenaming}>
              Rename
            </Dropdown.Item>
            <Dropdown.Item
              as="button"
              onClick={() => guard(duplicateProject(store, row.id, crypto.randomUUID(), Date.now()))}
            >
              Duplicate
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => guard(remove())}>
              Delete
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      </div>
    </li>
  );
}

function whenWords(then: number, now: number): string {
  const minutes = Math.round((now - then) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  if (minutes < 60 * 24) return `${Math.round(minutes / 60)} h ago`;
  return new Date(then).toLocaleDateString('en', { day: 'numeric', month: 'short', year: 'numeric' });
}
