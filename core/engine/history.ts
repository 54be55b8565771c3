import type { Command } from './commands';
import type { ProjectDocument } from './document';
import type { PackedTiles } from './tile-pack';

/** One step that can be undone or done again. */
export interface HistoryEntry {
  readonly label: string;
  /** Steps of one drag share a gesture and are undone together. */
  readonly gesture: string | null;
  readonly command: Command;
  readonly before: ProjectDocument;
  readonly after: ProjectDocument;
  /** Pixels on the other side of the step: before it while it is done, after it while it is undone. */
  readonly tiles: PackedTiles | null;
}

/** The steps done so far, and those undone since. `done` counts the former. */
export interface History {
  readonly entries: readonly HistoryEntry[];
  readonly done: number;
}

export const EMPTY_HISTORY: History = { entries: [], done: 0 };

/** What the interface shows of the history. */
export interface HistoryView {
  readonly undo: string | null;
  readonly redo: string | null;
  readonly steps: number;
}

export const viewHistory = ({ entries, done }: History): HistoryView => ({
  undo: entries[done - 1]?.label ?? null,
  redo: entries[done]?.label ?? null,
  steps: done,
});
