import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { findNode, kindOf, layersOf } from '../../core/engine';
import { download, fileNameOf } from '../shared/files';
import { store } from '../shared/platform';
import { markBusy, Session, useProject } from '../project';
import { CommandContext } from '../shared/commands';
import { shownLayer } from '../shared/shown';
import { EMPTY_HAND, isStage, useUi } from '../shared/ui-store';
import { Room, RoomContext } from '../viewport';
import { ContextMenuView } from './ContextMenuView';
import { KeysPage } from './KeysPage';
import { CommandList } from './CommandList';
import { Header } from './Header';
import { StageBody } from './StageBody';
import { Tour } from './Tour';
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
  const frame = useCallback((element: HTMLElement | null) => (element ? markBusy(element) : undefined), []);
  const status = useProject((s) => s.status);
  const problem = useProject((s) => s.problem);
  const rescuable = useProject((s) => s.rescue);
  const document_ = useProject((s) => s.document);
  const room = useMemo(() => new Room(), [session]); // eslint-disable-line react-hooks/exhaustive-deps
  const book = useCommands(
    session,
    room,
    isStage(stage) ? stage : 'paint',
    (to) => void navigate(`/project/${id}/${to}`),
  );

  useEffect(() => {
    void session.open();
    return () => session.close();
  }, [session]);

  useEffect(() => useUi.setState(EMPTY_HAND), [id]);

  // A paint layer is chosen when nothing is, so that painting can begin at once.
  const layers = document_?.layers;
  const selected = useUi((s) => s.target?.layer ?? null);
  useEffect(() => {
    if (!layers || (selected !== null && findNode(layers, selected))) return;
    const all = layersOf(layers);
    const paints = all.filter((l) => kindOf(l).form === 'pixels');
    // A new project is begun at the bottom; what was painted on is gone on with on top.
    const paint = (strokesNow() === 0 ? paints[0] : paints.at(-1)) ?? all.at(-1);
    useUi.setState({
      target: paint ? { layer: paint.id, channel: 'pixels' } : null,
      alsoChosen: new Set(),
    });
  }, [layers, selected]);

  const shown = useUi((s) => s.shown);
  useEffect(() => {
    const layer = shownLayer(shown);
    session.setView({
      alone: shown.of === 'layer' ? layer : null,
      maskOf: shown.of === 'mask' ? layer : null,
    });
  }, [session, shown]);

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
      if (useUi.getState().shown.of === 'layer' || useUi.getState().shown.of === 'mask') return;
      void room.view
        ?.snapshot(320, 240)
        .then((picture) => store.projects.update(id, { picture }))
        .catch(() => undefined);
    }, PICTURE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [status, composing, document_, id, room]);

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
    <RoomContext value={room}>
      <CommandContext value={book}>
        <div className={`frame stage-${stage}`} ref={frame}>
          <Header id={id} stage={stage} session={session} />
          <StageBody session={session} stage={stage} />
          <TaskList />
          <CommandList stage={stage} />
          <Tour id={id} name={name ?? ''} />
          <ContextMenuView />
          <KeysPage />
        </div>
      </CommandContext>
    </RoomContext>
  );
}
