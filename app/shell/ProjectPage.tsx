import { useEffect, useMemo, useState } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { findNode, kindOf, layersOf } from '../../core/engine';
import { download, fileNameOf } from '../shared/files';
import { store } from '../shared/platform';
import { Session, useProject } from '../project';
import { isStage, useUi } from '../shared/ui-store';
import { activeView } from '../viewport';
import { CommandList } from './CommandList';
import { Header } from './Header';
import { StageBody } from './StageBody';
import { TaskList } from './TaskList';
import { useCommands } from './use-commands';

const strokesNow = (): number => useProject.getState().strokes;

/** How long after the last change the start page's picture is renewed. */
const PICTURE_AFTER_MS = 3000;

async function saveRescued(session: Session, name: string): Promise<void> {
  const bytes = await session.rescueFile();
  if (bytes) download(`${fileNameOf(name)}.zip`, bytes, 'application/zip');
}

export function ProjectPage() {
  const { id = '', stage } = useParams();
  const navigate = useNavigate();
  const [attempt, setAttempt] = useState(0);
  // A new session for each project and each new attempt.
  const session = useMemo(() => new Session(id), [id, attempt]); // eslint-disable-line react-hooks/exhaustive-deps
  const status = useProject((s) => s.status);
  const problem = useProject((s) => s.problem);
  const rescuable = useProject((s) => s.rescue);
  const document_ = useProject((s) => s.document);
  const { commands, run } = useCommands(
    session,
    isStage(stage) ? stage : 'paint',
    (to) => void navigate(`/project/${id}/${to}`),
  );

  useEffect(() => {
    void session.open();
    return () => session.close();
  }, [session]);

  useEffect(() => {
    useUi.setState({
      selectedPart: null,
      alone: null,
      maskOf: null,
      hidden: new Set(),
      reference: null,
      selectedLayer: null,
      alsoChosen: new Set(),
      folded: new Set(),
      editMask: false,
      sheet: 0,
    });
  }, [id]);

  // A paint layer is chosen when nothing is, so that painting can begin at once.
  const layers = document_?.layers;
  const selected = useUi((s) => s.selectedLayer);
  useEffect(() => {
    if (!layers || (selected !== null && findNode(layers, selected))) return;
    const all = layersOf(layers);
    const paints = all.filter((l) => kindOf(l).form === 'pixels');
    // A new project is begun at the bottom; what was painted on is gone on with on top.
    const paint = (strokesNow() === 0 ? paints[0] : paints.at(-1)) ?? all.at(-1);
    useUi.setState({ selectedLayer: paint?.id ?? null, alsoChosen: new Set(), editMask: false });
  }, [layers, selected]);

  const alone = useUi((s) => s.alone);
  const maskOf = useUi((s) => s.maskOf);
  useEffect(() => session.setView({ alone, maskOf }), [session, alone, maskOf]);

  // What can't be written would be lost with the page: the browser asks before it closes.
  const stuck = useProject((s) => s.keep !== null && !s.keep.kept && s.keep.error !== null);
  useEffect(() => {
    if (!stuck) return;
    const ask = (e: BeforeUnloadEvent): void => e.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [stuck]);

  const name = document_?.name;
  useEffect(() => {
    document.title = name ? `${name} · Zanahoria` : 'Zanahoria';
  }, [name]);

  const composing = useProject((s) => s.pending > 0);
  useEffect(() => {
    if (status !== 'ready' || composing) return;
    const timer = setTimeout(() => {
      void activeView()
        ?.snapshot(320, 240)
        .then((picture) => (picture ? store.projects.update(id, { picture }) : undefined))
        .catch(() => undefined);
    }, PICTURE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [status, composing, document_, id]);

  if (!isStage(stage)) return <Navigate to={`/project/${id}/paint`} replace />;
  if (status === 'failed') {
    return (
      <main className="failed">
        <h1>{rescuable ? 'Painting can’t go on' : 'The project can’t be opened'}</h1>
        <p role="alert">{problem}</p>
        <div className="row">
          <button type="button" className="chip primary" onClick={() => setAttempt((n) => n + 1)}>
            Try again
          </button>
          {rescuable && (
            <button
              type="button"
              className="chip"
              onClick={() => void saveRescued(session, name ?? 'project')}
            >
              Save the project file
            </button>
          )}
          <Link className="chip" to="/">
            To the start page
          </Link>
        </div>
      </main>
    );
  }
  return (
    <div className={`frame stage-${stage}`}>
      <Header id={id} stage={stage} session={session} run={run} />
      <StageBody session={session} stage={stage} />
      <TaskList />
      <CommandList commands={commands} stage={stage} run={run} />
    </div>
  );
}
