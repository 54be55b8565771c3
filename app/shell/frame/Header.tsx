import { useEffect, useState } from 'react';
import { Link, NavLink } from 'react-router';
import { useShallow } from 'zustand/shallow';
import { type Session, checkState, useCheckView, useMatchView, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { useCommandBook, useTip } from '../../shared/commands';
import { RenameField } from '../../shared/RenameField';
import { STAGES, useUi, type StageName } from '../../shared/ui-store';
import { HistoryMenu } from './HistoryMenu';
import { STAGE_TITLES, stageState } from '../stage-words';

/** Name and state of the project, the trail of stages, undo and redo. */
export function Header({
  id,
  stage,
  session,
}: {
  readonly id: string;
  readonly stage: StageName;
  readonly session: Session;
}) {
  const name = useProject((s) => s.document?.name);
  const { run, keysOf } = useCommandBook();
  const tip = useTip();
  return (
    <header className="head">
      <Link to="/" className="brand" title="To the start page">
        <i aria-hidden />
        <span>Zanahoria</span>
      </Link>
      <div className="project-name">
        <ProjectName session={session} name={name ?? 'Opening…'} />
        <button
          type="button"
          className="kept-button"
          title={tip('What is kept, and where', 'storage')}
          onClick={() => run('storage')}
        >
          <Kept />
        </button>
      </div>
      <Trail id={id} stage={stage} />
      <div className="head-actions">
        <UndoButtons />
        <HistoryMenu session={session} />
        <Chip aria-label="Find a command" title={tip('Find a command', 'find')} onClick={() => run('find')}>
          <span>
            Find<span className="where-wide"> a command</span>
          </span>{' '}
          <kbd className="where-wide">{keysOf('find')}</kbd>
        </Chip>
      </div>
    </header>
  );
}

/** The stages, each with a word on how it stands. */
function Trail({ id, stage }: { readonly id: string; readonly stage: StageName }) {
  const distance = useMatchView((s) => s.report?.deltaE.mean ?? null);
  const { checked } = useCheckView();
  const states = useProject(
    useShallow((project) => {
      const found = checkState({ checked }, project) === 'fits' ? checked!.report.findings.length : null;
      return STAGES.map((s) => stageState(s, project, distance, found));
    }),
  );
  return (
    <nav className="trail" aria-label="Stages">
      {STAGES.map((s, i) => (
        <NavLink
          key={s}
          to={`/project/${id}/${s}`}
          className={s === stage ? 'on' : ''}
          aria-current={s === stage ? 'page' : undefined}
        >
          <b>{STAGE_TITLES[s]}</b>
          <small>{states[i]}</small>
        </NavLink>
      ))}
    </nav>
  );
}

function UndoButtons() {
  const undo = useProject((s) => s.history.undo);
  const redo = useProject((s) => s.history.redo);
  const { run } = useCommandBook();
  const tip = useTip();
  return (
    <>
      <Chip
        disabled={!undo}
        title={undo ? tip(`Undo: ${undo}`, 'undo') : 'Nothing to undo'}
        onClick={() => run('undo')}
      >
        Undo
      </Chip>
      <Chip
        disabled={!redo}
        title={redo ? tip(`Redo: ${redo}`, 'redo') : 'Nothing to redo'}
        onClick={() => run('redo')}
      >
        Redo
      </Chip>
    </>
  );
}

/** A double click or the command renames it. */
function ProjectName({ session, name }: { readonly session: Session; readonly name: string }) {
  const renaming = useUi((s) => s.renaming?.of === 'project');
  if (!renaming) {
    return (
      <h1
        title="Double-click to rename"
        onDoubleClick={() => useUi.setState({ renaming: { of: 'project', id: 0 } })}
      >
        {name}
      </h1>
    );
  }
  return (
    <RenameField
      name={name}
      label="Name of the project"
      most={120}
      onDone={(next) => {
        useUi.setState({ renaming: null });
        if (next) void session.command({ do: 'rename-project', name: next });
      }}
    />
  );
}

/** Whether everything is on disk, and since when. */
function Kept() {
  const keep = useProject((s) => s.keep);
  const follows = useProject((s) => s.follows);
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 5000);
    return () => clearInterval(timer);
  }, []);
  if (follows) {
    return (
      <small
        className="follows"
        role="status"
        title="Another tab paints on this project. Here it is looked at, and follows; it can be painted on as soon as the other tab is closed."
      >
        followed: open in another tab
      </small>
    );
  }
  if (!keep) return <small>&nbsp;</small>;
  if (!keep.kept && !keep.error) return <small>keeping…</small>;
  if (!keep.kept) {
    return (
      <small className="not-kept" role="alert" title={keep.error?.message}>
        not kept:{' '}
        {{ 'storage-full': 'disk is full', 'storage-refused': 'storage is off' }[
          keep.error?.code as string
        ] ?? 'disk can’t be written'}
      </small>
    );
  }
  const seconds = Math.max(0, Math.round((now - keep.at) / 1000));
  return <small>{seconds < 60 ? `kept ${seconds < 5 ? 'just now' : `${seconds} s ago`}` : 'kept'}</small>;
}
