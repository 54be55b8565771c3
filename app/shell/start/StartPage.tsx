import { Chip } from '../../shared/Chip';
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { sentenceOf } from '../../../core/errors';
import type { ImportedPaint } from '../../../core/formats';
import type { Mesh } from '../../../core/mesh';
import { storageError, wipeDeleted, type Restored } from '../../../storage';
import { chooseFiles } from '../../shared/files';
import { store } from '../../shared/platform';
import { remember, remembered } from '../../shared/remembered';
import { notify } from '../../shared/notify';
import { saveArchive } from '../../set';
import { DEMOS, MODEL_FILES, openDemo, openDemoSet, readFiles, storeProject } from './new-project';
import { SetCards } from './SetCards';
import { fetchProjectPage } from '../project-page';
import { NewProjectDialog } from '../dialogs/NewProjectDialog';
import { HandbookDialog, openHandbook } from '../dialogs/HandbookDialog';
import { LicencesDialog } from '../dialogs/LicencesDialog';
import { ProjectCard } from './ProjectCard';
import { StorageDialog, useStoragePage } from '../dialogs/StorageDialog';
import { TaskList } from '../frame/TaskList';

const FILES = `${MODEL_FILES},.zip`;

/** Set once the first start has opened the demo by itself. */
const STARTED = 'zanahoria-started';

/** Projects of the demo beside the otter. */
const PROPS = ['otter-matched', 'lantern', 'kettle', 'crate', 'lantern-inked', 'crate-and-kettle'] as const;

export function StartPage() {
  const navigate = useNavigate();
  const [model, setModel] = useState<{ mesh: Mesh; paint: ImportedPaint; name: string } | null>(null);
  const [problem, setProblem] = useState('');
  const [over, setOver] = useState(false);
  const [licences, setLicences] = useState(false);
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

  const demo = async (which: keyof typeof DEMOS = 'otter-cook'): Promise<void> => {
    try {
      const id = await openDemo(which);
      await navigate(`/project/${id}/${which === 'otter-matched' ? 'match' : 'paint'}`);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };

  useEffect(() => {
    document.title = 'Zanahoria';
    if (!first.current) return;
    first.current = false;
    // What can't be fetched now is asked for again when a project is opened.
    void fetchProjectPage().catch(() => undefined);
    void wipeDeleted(store).catch(() => undefined);
    // Where nothing can be remembered, the demo would open itself each time.
    if (remembered(STARTED) === null && remember(STARTED, 'yes')) {
      void demo();
    }
  });

  const demoSet = async (): Promise<void> => {
    try {
      await navigate(`/set/${await openDemoSet()}`);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };

  /** One set alone is opened; of several projects it is told how many there are. */
  const putBack = async ({ projects, sets, problems }: Restored): Promise<void> => {
    setProblem(problems.join(' '));
    if (sets.length === 1 && problems.length === 0) return void (await navigate(`/set/${sets[0]}`));
    const counted = `${projects.length} ${projects.length === 1 ? 'project is' : 'projects are'} here again`;
    notify(sets.length > 0 ? `${counted}, with ${sets.length} of their sets.` : `${counted}.`);
  };

  const saveAll = async (): Promise<void> => {
    const sets = (await store.sets.toCollection().primaryKeys()) as string[];
    const day = new Date().toISOString().slice(0, 10);
    await saveArchive(`zanahoria-${day}.zip`, projects?.map((p) => p.id) ?? [], sets);
  };

  const bring = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return;
    setProblem('');
    try {
      const opened = await readFiles(files);
      if (opened.kind === 'model') {
        setModel(opened);
        if (opened.missing)
          notify(
            `The model wants pictures that aren’t there: ${opened.missing.join(', ')}. Choose it together with them, or go on without.`,
          );
      }
      if (opened.kind === 'archive') await putBack(opened.restored);
      if (opened.kind === 'project') {
        const id = await storeProject(opened.data);
        if (opened.missing.length > 0) notify(`Opened as far as it goes: ${opened.missing.join(' ')}`);
        await navigate(`/project/${id}/paint`);
      }
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
          <small>Drop or choose a GLB, glTF, OBJ, PLY or STL, a project file or a backup</small>
        </button>
        <button type="button" className="start-action" onClick={() => void demo()}>
          <b>Open the demo</b>
          <small>The otter cook, with reference and a painted build-up</small>
        </button>
        <button type="button" className="start-action" onClick={() => void demoSet()}>
          <b>Open the stall</b>
          <small>Otter, lantern, kettle and crate as a set that shares its light and palette</small>
        </button>
      </div>
      <p className="start-props">
        <small>Painted too:</small>
        {PROPS.map((one) => (
          <Chip
            key={one}
            title={
              one === 'otter-matched'
                ? 'The otter brought to its reference, with the looks on the way'
                : 'A prop of the stall, as a project of its own'
            }
            onClick={() => void demo(one)}
          >
            {DEMOS[one]}
          </Chip>
        ))}
      </p>
      {problem && (
        <p className="problem" role="alert">
          {problem}
          <Chip onClick={() => setProblem('')}>Close</Chip>
        </p>
      )}
      <SetCards />
      <div className="projects-head">
        <h2>Projects in this browser</h2>
        <span className="row">
          <Chip
            title="A backup of all projects and sets as one file; undo steps aren’t in it"
            disabled={!projects?.length}
            onClick={() => void saveAll()}
          >
            Save all
          </Chip>
          <Chip onClick={() => useStoragePage.setState({ open: true })}>Room used…</Chip>
        </span>
      </div>
      <StorageDialog session={null} />
      {projects?.length === 0 && (
        <p className="empty">Nothing here yet. What you begin is kept by itself, stroke by stroke.</p>
      )}
      <ul className="projects">
        {projects?.map((p) => (
          <ProjectCard key={p.id} row={p} onOpen={() => void navigate(`/project/${p.id}/paint`)} />
        ))}
      </ul>
      <footer className="start-foot">
        <Chip onClick={() => openHandbook('README')}>Handbook</Chip>
        <Chip onClick={() => setLicences(true)}>Works of others</Chip>
      </footer>
      <HandbookDialog />
      {licences && <LicencesDialog onClose={() => setLicences(false)} />}
      <TaskList />
      {model && (
        <NewProjectDialog
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
