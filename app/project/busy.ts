import { useTasks } from '../shared/tasks';
import { useProject } from './project-store';

const open = new Set<Asked>();
const listeners = new Set<() => void>();
const tell = (): void => listeners.forEach((listener) => listener());

/** Counts what a session has asked its paint worker for until it has answered. */
export class Asked {
  count = 0;

  constructor() {
    open.add(this);
  }

  async during<T>(work: Promise<T>): Promise<T> {
    this.count++;
    tell();
    try {
      return await work;
    } finally {
      this.count--;
      tell();
    }
  }

  /** Nothing more will be answered. */
  end(): void {
    open.delete(this);
    tell();
  }
}

/** What follows from an answer, such as the first tiles, comes within this time. */
const CALM_MS = 80;

/**
 * Tells on an element what the program is at, without anything being drawn anew: `data-busy` while commands, strokes or tiles are under
 * way, `data-measuring` while longer work is, such as opening, measuring and laying out. Tests and scripts wait for these.
 *
 * @returns stops it
 */
export function markBusy(element: HTMLElement): () => void {
  let calm: ReturnType<typeof setTimeout> | undefined;
  const isBusy = (): boolean => useProject.getState().pending > 0 || [...open].some((a) => a.count > 0);
  const isMeasuring = (): boolean => {
    const { status, missingCues, stoppedCues } = useProject.getState();
    return (
      status !== 'ready' || useTasks.getState().tasks.length > 0 || missingCues.length > stoppedCues.size
    );
  };
  const mark = (): void => {
    if (isBusy()) element.dataset['busy'] = 'true';
    if (isMeasuring()) element.dataset['measuring'] = 'true';
    clearTimeout(calm);
    calm = setTimeout(() => {
      element.dataset['busy'] = String(isBusy());
      element.dataset['measuring'] = String(isMeasuring());
    }, CALM_MS);
  };
  element.dataset['busy'] = element.dataset['measuring'] = 'true';
  mark();
  listeners.add(mark);
  const stops = [useProject.subscribe(mark), useTasks.subscribe(mark), () => listeners.delete(mark)];
  return () => {
    clearTimeout(calm);
    stops.forEach((stop) => stop());
  };
}
