import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useRef, useState } from 'react';
import { Dropdown, Form, Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { CoreError, sentenceOf } from '../../core/errors';
import type { ImportedPaint } from '../../core/formats';
import { triangleCount, type Mesh } from '../../core/mesh';
import { SHEET_SIZES, type SheetSize } from '../../core/surface';
import { duplicateProject, storageError, wipeDeleted, type ProjectRow } from '../../workers';
import { chooseFiles } from '../shared/files';
import { notify } from '../shared/notify';
import { store } from '../shared/platform';
import { useTasks } from '../shared/tasks';
import { layOut, MODEL_FILES, openDemo, projectOfModel, readFiles, storeProject } from './new-project';
import { TaskList } from './TaskList';

const FILES = `${MODEL_FILES},.zip`;

/** Set once the first start has opened the demo by itself. */
const STARTED = 'zanahoria-started';

export function StartPage() {
  const navigate = useNavigate();
  const [model, setModel] = useState<{ mesh: Mesh; paint: ImportedPaint; name: string } | null>(null);
  const [problem, setProblem] = useState('');
  const [over, setOver] = useState(false);
  const first = useRef(true);
  const projects = useLiveQuery(async () => {
    try {
      const rows = await store.projects.orderBy('updatedAt').reverse().toArray();
      return rows.filter((p) => p.deletedAt === null);
    } catch (error) {
      setProblem(storageError(error).message);
      return [];
    }
  });

  const demo = async (): Promise<void> => {
    try {
      const id = await openDemo();
      await navigate(`/project/${id}/paint`);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };

  useEffect(() => {
    document.title = 'Zanahoria';
    if (!first.current) return;
    first.current = false;
    void wipeDeleted(store).catch(() => undefined);
    if (!localStorage.getItem(STARTED)) {
      localStorage.setItem(STARTED, 'yes');
      void demo();
    }
  });

  const bring = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return;
    setProblem('');
    try {
      const opened = await readFiles(files);
      if (opened.kind === 'model') setModel(opened);
      else await navigate(`/project/${await storeProject(opened.data)}/paint`);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };

  return (
    <main
      className={over ? 'start over' : 'start'}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void bring([...e.dataTransfer.files]);
      }}
    >
      <header className="start-head">
        <h1 className="brand">
          <i aria-hidden />
          Zanahoria
        </h1>
        <p>Paint the albedo of a model with its light, shadow and occlusion built in.</p>
      </header>
      <div className="start-actions">
        <button
          type="button"
          className="start-action main"
          onClick={() => void chooseFiles(FILES, true).then(bring)}
        >
          <b>New from a model</b>
          <small>Drop or choose a GLB, glTF, OBJ, PLY or STL, or a project file</small>
        </button>
        <button type="button" className="start-action" onClick={() => void demo()}>
          <b>Open the demo</b>
          <small>The otter cook, with reference and a painted build-up</small>
        </button>
      </div>
      {problem && (
        <p className="problem" role="alert">
          {problem}
          <button type="button" className="chip" onClick={() => setProblem('')}>
            Close
          </button>
        </p>
      )}
      <h2>Projects in this browser</h2>
      {projects?.length === 0 && (
        <p className="empty">Nothing here yet. What you begin is kept by itself, stroke by stroke.</p>
      )}
      <ul className="projects">
        {projects?.map((p) => (
          <ProjectCard key={p.id} row={p} onOpen={() => void navigate(`/project/${p.id}/paint`)} />
        ))}
      </ul>
      <TaskList />
      {model && (
        <NewProject
          {...model}
          onClose={() => setModel(null)}
          onMade={(id) => void navigate(`/project/${id}/model`)}
          onProblem={(sentence) => {
            setModel(null);
            setProblem(sentence);
          }}
        />
      )}
    </main>
  );
}

function ProjectCard({ row, onOpen }: { readonly row: ProjectRow; readonly onOpen: () => void }) {
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
  const rename = async (text: string): Promise<void> => {
    setRenaming(false);
    const name = text.trim().slice(0, 120);
    if (name && name !== row.name) {
      await store.projects.update(row.id, { name, document: { ...row.document, name } });
    }
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
          <input
            autoFocus
            defaultValue={row.name}
            aria-label="Name of the project"
            onFocus={(e) => e.target.select()}
            onBlur={(e) => guard(rename(e.target.value))}
            onKeyDown={(e) => {
              if (e.key === 'Enter') e.currentTarget.blur();
              if (e.key === 'Escape') setRenaming(false);
            }}
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

/** Pictures need the UVs that they were made for. */
const withoutPictures = (paint: ImportedPaint): ImportedPaint => ({
  ...paint,
  pictures: paint.pictures.map(() => null),
});

/** Asks for what a new project needs before it is begun. */
function NewProject({
  mesh,
  paint,
  name,
  onClose,
  onMade,
  onProblem,
}: {
  readonly mesh: Mesh;
  readonly paint: ImportedPaint;
  readonly name: string;
  readonly onClose: () => void;
  readonly onMade: (id: string) => void;
  readonly onProblem: (sentence: string) => void;
}) {
  const [title, setTitle] = useState(name);
  const [size, setSize] = useState<SheetSize>(1024);
  const [busy, setBusy] = useState(false);
  const begin = async (): Promise<void> => {
    setBusy(true);
    try {
      const ready = mesh.uvs ? mesh : await layOut(mesh, size);
      onMade(
        await storeProject(
          await projectOfModel(ready, mesh.uvs ? paint : withoutPictures(paint), title.trim() || name, size),
        ),
      );
    } catch (error) {
      setBusy(false);
      // Stopped by hand: the dialog is there again as it was.
      if (!(error instanceof CoreError && error.code === 'cancelled')) onProblem(sentenceOf(error));
    }
  };
  const cancel = (): void => {
    for (const task of useTasks.getState().tasks) task.stop?.();
    onClose();
  };
  return (
    <Modal show onHide={cancel} centered aria-labelledby="new-project-title">
      <form
        className="new-project"
        onSubmit={(e) => {
          e.preventDefault();
          void begin();
        }}
      >
        <h2 id="new-project-title">New project</h2>
        <p>
          {triangleCount(mesh).toLocaleString('en')} triangles in {mesh.parts.length}{' '}
          {mesh.parts.length === 1 ? 'part' : 'parts'}.
        </p>
        {!mesh.uvs && (
          <p className="notice">
            The model has no UVs, so there is no sheet to paint on yet. Zanahoria lays it out, so that work
            can start; the Unwrap stage can change that at any time, with the paint.
          </p>
        )}
        <label className="field">
          Name
          <Form.Control size="sm" value={title} maxLength={120} onChange={(e) => setTitle(e.target.value)} />
        </label>
        <label className="field">
          Sheet
          <Form.Select size="sm" value={size} onChange={(e) => setSize(Number(e.target.value) as SheetSize)}>
            {SHEET_SIZES.filter((s) => s >= 256).map((s) => (
              <option key={s} value={s}>
                {s} × {s} texels
              </option>
            ))}
          </Form.Select>
        </label>
        {busy && <TaskList />}
        <div className="row end">
          <button type="button" className="chip" onClick={cancel}>
            Cancel
          </button>
          <button type="submit" className="chip primary" disabled={busy}>
            {mesh.uvs ? 'Begin' : 'Lay out and begin'}
          </button>
        </div>
      </form>
    </Modal>
  );
}
