import { Chip } from '../shared/Chip';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { download, fileNameOf } from '../shared/files';
import { markBusy, Session, takeMotion, useProject } from '../project';
import { CommandContext } from '../shared/commands';
import { EMPTY_HAND, isStage, useUi } from '../shared/ui-store';
import { ViewportContext, ViewportReactContext } from '../viewport';
import { ContextMenuView } from './frame/ContextMenuView';
import { HandbookDialog } from './dialogs/HandbookDialog';
import { KeysPage } from './dialogs/KeysPage';
import { CommandList } from './dialogs/CommandList';
import { Header } from './frame/Header';
import { StageBody } from './frame/StageBody';
import { StorageDialog } from './dialogs/StorageDialog';
import { Upkeep } from './frame/Upkeep';
import { Tour } from './frame/Tour';
import { LossReviewCard } from './frame/LossReviewCard';
import { TaskList } from './frame/TaskList';
import { useCommands } from './use-commands';

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
  const name = useProject((s) => s.document?.name);
  const viewport = useMemo(() => new ViewportContext(), [session]); // eslint-disable-line react-hooks/exhaustive-deps
  const book = useCommands(
    session,
    viewport,
    isStage(stage) ? stage : 'paint',
    (to) => void navigate(`/project/${id}/${to}`),
  );

  useEffect(() => {
    void session.open();
    return () => {
      session.close();
      // A pose is of its own project's file.
      takeMotion(null, null);
    };
  }, [session]);

  useEffect(() => useUi.setState(EMPTY_HAND), [id]);

  // The other tab was closed, or has another model in hand.
  const reopens = useProject((s) => s.reopens);
  useEffect(() => {
    if (reopens > 0) setAttempt((n) => n + 1);
  }, [reopens]);

  // What can't be written would be lost with the page: the browser asks before it closes.
  const stuck = useProject((s) => s.keep !== null && !s.keep.kept && s.keep.error !== null);
  useEffect(() => {
    if (!stuck) return;
    const ask = (e: BeforeUnloadEvent): void => e.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [stuck]);

  useEffect(() => {
    document.title = name ? `${name} · Zanahoria` : 'Zanahoria';
  }, [name]);

  if (!isStage(stage)) return <Navigate to={`/project/${id}/paint`} replace />;
  if (status === 'failed') {
    return (
      <main className="failed">
        <h1>{rescuable ? 'Painting can’t go on' : 'The project can’t be opened'}</h1>
        <p role="alert">{problem}</p>
        <div className="row">
          <Chip primary onClick={() => setAttempt((n) => n + 1)}>
            Try again
          </Chip>
          {rescuable && (
            <Chip onClick={() => void saveRescued(session, name ?? 'project')}>Save the project file</Chip>
          )}
          <Link className="chip" to="/">
            To the start page
          </Link>
        </div>
      </main>
    );
  }
  return (
    <ViewportReactContext value={viewport}>
      <CommandContext value={book}>
        <div className={`frame stage-${stage}`} ref={frame}>
          <Header id={id} stage={stage} session={session} />
          <StageBody session={session} stage={stage} />
          <Upkeep id={id} session={session} viewport={viewport} />
          <TaskList />
          <LossReviewCard />
          <CommandList stage={stage} />
          <Tour id={id} name={name ?? ''} />
          <ContextMenuView />
          <KeysPage />
          <HandbookDialog onKeys={() => useUi.setState({ keysPage: true })} />
          <StorageDialog session={session} />
        </div>
      </CommandContext>
    </ViewportReactContext>
  );
}
