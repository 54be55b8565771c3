import { useEffect, useMemo, useState } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { store } from '../shared/platform';
import { useProject } from '../shared/project-store';
import { Session } from '../shared/session';
import { isStage, useUi } from '../shared/ui-store';
import { activeView } from '../viewport';
import { CommandList } from './CommandList';
import { Header } from './Header';
import { StageBody } from './StageBody';
import { TaskList } from './TaskList';
import { useCommands } from './use-commands';

/** How long after the last change the start page's picture is renewed. */
const PICTURE_AFTER_MS = 3000;

export function ProjectPage() {
  const { id = '', stage } = useParams();
  const navigate = useNavigate();
  const [attempt, setAttempt] = useState(0);
  // A new session for each project and each new attempt.
  const session = useMemo(() => new Session(id), [id, attempt]); // eslint-disable-line react-hooks/exhaustive-deps
  const status = useProject((s) => s.status);
  const problem = useProject((s) => s.problem);
  const document_ = useProject((s) => s.document);
  const { commands, run } = useCommands(session, (to) => void navigate(`/project/${id}/${to}`));

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
      sheet: 0,
    });
  }, [id]);

  // The topmost paint layer is chosen when nothing is, so that painting can begin at once.
  const layers = document_?.layers;
  const nextId = document_?.nextId ?? 0;
  const selected = useUi((s) => s.selectedLayer);
  useEffect(() => {
    if (!layers || layers.some((l) => l.id === selected)) return;
    // A layer that was just added is chosen before the document has it.
    if (selected !== null && selected >= nextId) return;
    const paint = layers.findLast((l) => l.kind === 'paint') ?? layers.at(-1);
    useUi.setState({ selectedLayer: paint?.id ?? null });
  }, [layers, selected, nextId]);

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

  const pending = useProject((s) => s.pending);
  useEffect(() => {
    if (status !== 'ready' || pending > 0) return;
    const timer = setTimeout(() => {
      void activeView()
        ?.snapshot(320, 240)
        .then((picture) => (picture ? store.projects.update(id, { picture }) : undefined))
        .catch(() => undefined);
    }, PICTURE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [status, pending, document_, id]);

  if (!isStage(stage)) return <Navigate to={`/project/${id}/paint`} replace />;
  if (status === 'failed') {
    return (
      <main className="failed">
        <h1>The project can’t be opened</h1>
        <p role="alert">{problem}</p>
        <div className="row">
          <button type="button" className="chip primary" onClick={() => setAttempt((n) => n + 1)}>
            Try again
          </button>
          <Link className="chip" to="/">
            To the start page
          </Link>
        </div>
      </main>
    );
  }
  return (
    <div className={`frame stage-${stage}`}>
      <Header id={id} stage={stage} run={run} />
      <StageBody session={session} stage={stage} />
      <TaskList />
      <CommandList commands={commands} />
    </div>
  );
}
