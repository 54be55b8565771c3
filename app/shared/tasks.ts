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
}

export const useTasks = create<TaskState>(() => ({ tasks: [] }));

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
  }));
  try {
    return await work(controller.signal, (done) => change({ done }));
  } finally {
    useTasks.setState(({ tasks }) => ({ tasks: tasks.filter((t) => t.id !== id) }));
  }
}
