import { Chip } from '../../shared/Chip';
import { useTasks } from '../../shared/tasks';

/** Long work with its progress; each can be stopped. */
export function TaskList() {
  const tasks = useTasks((s) => s.tasks);
  if (tasks.length === 0) return null;
  return (
    <ul className="tasks">
      {tasks.map((t) => (
        <li key={t.id}>
          <span>{t.label}</span>
          <progress max={1} {...(t.done > 0 ? { value: t.done } : {})} aria-label={t.label} />
          {t.stop && <Chip onClick={t.stop}>Stop</Chip>}
        </li>
      ))}
    </ul>
  );
}

/** Begin, end and failure of long work, for those who hear the screen. */
export function TaskVoice() {
  const said = useTasks((s) => s.said);
  return (
    <p className="visually-hidden" role="status">
      {said}
    </p>
  );
}
