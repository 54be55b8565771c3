import './storage.css';
import { useCallback, useEffect, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { create } from 'zustand';
import {
  freeMeasured,
  forgetSteps,
  storageUsage,
  storageError,
  total,
  wipeDeleted,
  type StorageUsage,
} from '../../../storage';
import { canCopyToFolder, useFolderCopy, useProject, whileClosed, type Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { notify } from '../../shared/notify';
import { store } from '../../shared/platform';

/** Whether the page on what is kept is open. */
export const useStoragePage = create<{ readonly open: boolean }>(() => ({ open: false }));

const MB = 1e6;

const sizeWords = (bytes: number): string =>
  bytes >= 1000 * MB
    ? `${(bytes / MB / 1000).toFixed(1)} GB`
    : bytes >= 10 * MB
      ? `${Math.round(bytes / MB)} MB`
      : bytes >= 0.1 * MB
        ? `${(bytes / MB).toFixed(1)} MB`
        : `${Math.ceil(bytes / 1000)} KB`;

interface ViewportContext extends StorageUsage {
  /** What the browser tells of all that it keeps for this page, and the most that it would. */
  readonly used: number | null;
  readonly most: number | null;
  /** The browser has promised not to clear it by itself. */
  readonly isSafe: boolean;
}

async function lookAround(): Promise<ViewportContext> {
  const { storage } = navigator;
  const estimate = await storage?.estimate?.().catch(() => undefined);
  const isSafe = (await storage?.persisted?.().catch(() => false)) ?? false;
  return {
    ...(await storageUsage(store)),
    used: estimate?.usage ?? null,
    most: estimate?.quota ?? null,
    isSafe,
  };
}

/** Where work is kept, how much room it takes and what can be freed. @param session of the open project; null on the start page */
export function StorageDialog({ session }: { readonly session: Session | null }) {
  const { open } = useStoragePage();
  const [viewport, setRoom] = useState<ViewportContext | null>(null);
  const [problem, setProblem] = useState('');
  const look = useCallback(
    () =>
      lookAround().then(
        (found) => setRoom(found),
        (error: unknown) => setProblem(storageError(error).message),
      ),
    [],
  );
  useEffect(() => {
    if (open) void look();
  }, [open, look]);
  if (!open) return null;
  const close = (): void => useStoragePage.setState({ open: false });
  const doing = (work: Promise<unknown>): void =>
    void work.then(look, (error: unknown) => notify(storageError(error).message));
  return (
    <Modal show onHide={close} centered scrollable aria-labelledby="storage-title">
      <div className="form-dialog storage-page">
        <h2 id="storage-title">What is kept, and where</h2>
        {session && <FolderSection session={session} />}
        <h3>In this browser</h3>
        {problem && <p role="alert">{problem}</p>}
        {!viewport && !problem && <p className="hint-line">Looking…</p>}
        {viewport && (
          <>
            {viewport.used !== null && viewport.most !== null && viewport.most > 0 && (
              <p className="room-line">
                <span className="room-bar" aria-hidden>
                  <i
                    style={{
                      width: `${Math.min(100, Math.max(0.5, (viewport.used / viewport.most) * 100))}%`,
                    }}
                  />
                </span>
                {sizeWords(viewport.used)} of {sizeWords(viewport.most)} that the browser allows
              </p>
            )}
            <p className="hint-line">
              {viewport.isSafe
                ? 'The browser has promised not to clear it by itself.'
                : 'When the disk gets full the browser may clear it by itself.'}{' '}
              {!viewport.isSafe && (
                <Chip
                  onClick={() =>
                    doing(
                      navigator.storage.persist().then((isSafe) => {
                        if (!isSafe)
                          notify('The browser makes no such promise. A copy in a folder is safe from it.');
                      }),
                    )
                  }
                >
                  Ask it not to
                </Chip>
              )}
            </p>
            <Projects viewport={viewport} openId={session?.project ?? null} doing={doing} />
            <table className="room-table">
              <tbody>
                <tr>
                  <th scope="row">
                    Measured <small>occlusion and other cues; they can be measured again</small>
                  </th>
                  <td>{sizeWords(viewport.measured)}</td>
                  <td>
                    <Chip disabled={viewport.measured === 0} onClick={() => doing(freeMeasured(store))}>
                      Free
                    </Chip>
                  </td>
                </tr>
              </tbody>
            </table>
          </>
        )}
        <div className="row end">
          <Chip primary onClick={close}>
            Close
          </Chip>
        </div>
      </div>
    </Modal>
  );
}

async function forget(project: string): Promise<void> {
  const done = await whileClosed(project, () => forgetSteps(store, project));
  if (!done) notify('That project is open in another tab. Close it there first: its steps are in use.');
}

function Projects({
  viewport,
  openId,
  doing,
}: {
  readonly viewport: ViewportContext;
  readonly openId: string | null;
  readonly doing: (work: Promise<unknown>) => void;
}) {
  const deleted = viewport.projects.filter((p) => p.isDeleted);
  return (
    <table className="room-table">
      <thead>
        <tr>
          <th scope="col">Project</th>
          <th scope="col">All</th>
          <th scope="col">Undo</th>
        </tr>
      </thead>
      <tbody>
        {viewport.projects
          .filter((p) => !p.isDeleted)
          .map((p) => (
            <tr key={p.id}>
              <th scope="row">{p.name}</th>
              <td>{sizeWords(total(p))}</td>
              <td>
                <Chip
                  disabled={p.undo === 0 || p.id === openId}
                  title={
                    p.id === openId
                      ? 'It is open: close it to forget its steps'
                      : 'Forgets its steps: its paint stays, and can’t be undone any more'
                  }
                  aria-label={`Free the undo steps of ${p.name}, ${sizeWords(p.undo)}`}
                  onClick={() => doing(forget(p.id))}
                >
                  Free {sizeWords(p.undo)}
                </Chip>
              </td>
            </tr>
          ))}
        {deleted.length > 0 && (
          <tr>
            <th scope="row">
              Deleted <small>{deleted.map((p) => p.name).join(', ')}</small>
            </th>
            <td>{sizeWords(deleted.reduce((sum, p) => sum + total(p), 0))}</td>
            <td>
              <Chip title="They can’t be brought back then" onClick={() => doing(wipeDeleted(store))}>
                Wipe
              </Chip>
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

/** A copy of the open project outside of the browser. */
function FolderSection({ session }: { readonly session: Session }) {
  const { folder, asks, at, problem } = useFolderCopy();
  const name = useProject((s) => s.document?.name);
  const { folderCopy } = session;
  return (
    <>
      <h3>“{name}” outside of the browser</h3>
      {!canCopyToFolder() && (
        <p className="hint-line">
          This browser lets no folder be written. Ctrl S saves the project file at any time.
        </p>
      )}
      {canCopyToFolder() && !folder && (
        <p className="hint-line">
          A copy can be kept in a folder, up to date by itself whenever the hand rests.{' '}
          <Chip onClick={() => void folderCopy?.choose()}>Choose a folder…</Chip>
        </p>
      )}
      {folder && (
        <p className="hint-line" role="status">
          {asks
            ? `The copy in “${folder}” isn’t kept up to date until the browser is allowed to once more. `
            : `A copy is kept in “${folder}”${at ? `, last written at ${new Date(at).toLocaleTimeString('en', { hour: '2-digit', minute: '2-digit' })}` : ''}. `}
          {asks && (
            <Chip primary onClick={() => void folderCopy?.allow()}>
              Allow
            </Chip>
          )}{' '}
          <Chip onClick={() => void folderCopy?.end()}>Keep none</Chip>
        </p>
      )}
      {problem && <p role="alert">{problem}</p>}
    </>
  );
}
