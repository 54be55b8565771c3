import { create } from 'zustand';

/** Long work that is shown with its progress and can be stopped. */
export interface Task {
  readonly id: number;
  readonly label: string;
  /** 0..1 */
  readonly done: number;
  readonly stop: (() => void) | null;
}

interface TaskState {
  readonly tasks: readonly Task[];
  /** What is told of the latest begin or end, for those who hear it. */
  readonly said: string;
}

export const useTasks = create<TaskState>(() => ({ tasks: [], said: '' }));

let nextId = 1;

/** Shows a task while `work` runs. Its signal is aborted when the task is stopped. */
export async function withTask<T>(
  label: string,
  work: (signal: AbortSignal, progress: (done: number) => void) => Promise<T>,
): Promise<T> {
  const controller = new AbortController();
  const id = nextId++;
  const change = (patch: Partial<Task>): void =>
    useTasks.setState(({ tasks }) => ({ tasks: tasks.map((t) => (t.id === id ? { ...t, ...patch } : t)) }));
  useTasks.setState(({ tasks }) => ({
    tasks: [...tasks, { id, label, done: 0, stop: () => controller.abort() }],
    said: `${label}: begun`,
  }));
  let end = 'done';
  try {
    return await work(controller.signal, (done) => change({ done }));
  } catch (error) {
    end = controller.signal.aborted ? 'stopped' : 'failed';
    throw error;
  } finally {
    useTasks.setState(({ tasks }) => ({ tasks: tasks.filter((t) => t.id !== id), said: `${label}: ${end}` }));
  }
}
