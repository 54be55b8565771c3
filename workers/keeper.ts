import { Dexie } from 'dexie';
import { parseDocument, type Commit, type History, type HistoryEntry } from '../core/engine';
import type { ErrorCode } from '../core/errors';
import { storageError } from './projects';
import type { HistoryRow, ProjectStore } from './store';

/** Steps that stay undoable after the project is opened again. */
const KEPT_STEPS = 400;

/** How long to wait before trying again to write what could not be written. */
const RETRY_MS = 3000;

export type KeepState =
  | { readonly kept: true; readonly at: number }
  /** Being written; with an error, what stands in the way. It is tried again. */
  | {
      readonly kept: false;
      readonly waiting: number;
      readonly error: { readonly code: ErrorCode; readonly message: string } | null;
    };

/**
 * Writes every commit of a project as it happens, each in one transaction. What can't be written stays in line and is tried
 * again, so that a full disk loses nothing while the page is open.
 */
export class Keeper {
  private readonly store: ProjectStore;
  private readonly project: string;
  private readonly tell: (state: KeepState) => void;
  private readonly line: Commit[] = [];
  private readonly strokeCounts: Map<number, number>;
  private busy: Promise<void> | null = null;

  constructor(
    store: ProjectStore,
    project: string,
    strokeCounts: ReadonlyMap<number, number>,
    tell: (state: KeepState) => void,
  ) {
    this.store = store;
    this.project = project;
    this.strokeCounts = new Map(strokeCounts);
    this.tell = tell;
  }

  keep(commit: Commit): void {
    this.line.push(commit);
    if (this.line.length === 1) this.tell({ kept: false, waiting: 1, error: null });
    this.busy ??= this.work();
  }

  /** Resolves when everything is on disk, or when the last try has failed. */
  async settled(): Promise<void> {
    await this.busy;
  }

  private async work(): Promise<void> {
    while (this.line.length) {
      try {
        const commit = this.line[0]!;
        await this.write(commit);
        // Only now: a write that failed is repeated whole.
        for (const [layer, list] of commit.strokes) this.strokeCounts.set(layer, list.length);
        this.line.shift();
        if (this.line.length === 0) this.tell({ kept: true, at: Date.now() });
      } catch (error) {
        // Plain words and a code: an error object would lose its code on the way out of the worker.
        const { code, message } = storageError(error);
        this.tell({ kept: false, waiting: this.line.length, error: { code, message } });
        setTimeout(() => {
          if (this.line.length) this.busy ??= this.work();
        }, RETRY_MS);
        break;
      }
    }
    this.busy = null;
  }

  private write(commit: Commit): Promise<void> {
    const { store, project } = this;
    return store.transaction('rw', [store.projects, store.tiles, store.strokes, store.history], async () => {
      await store.projects.update(project, {
        document: commit.document,
        modelHash: commit.document.model,
        name: commit.document.name,
        updatedAt: Date.now(),
        historyDone: commit.history.done,
      });
      const filled = commit.tiles.flatMap(({ layer, tile, bytes }) =>
        bytes ? [{ project, layer, tile, bytes }] : [],
      );
      if (filled.length) await store.tiles.bulkPut(filled);
      const emptied = commit.tiles.flatMap(({ layer, tile, bytes }): [string, number, number][] =>
        bytes ? [] : [[project, layer, tile]],
      );
      if (emptied.length) await store.tiles.bulkDelete(emptied);
      await this.writeStrokes(commit);
      const { entries } = commit.history;
      await store.history
        .where('[project+index]')
        .between([project, entries.length], [project, Dexie.maxKey], true, true)
        .delete();
      await store.history.bulkPut(
        entries
          .slice(commit.historyFrom)
          .map((entry, i) => historyRow(project, commit.historyFrom + i, entry)),
      );
    });
  }

  private async writeStrokes(commit: Commit): Promise<void> {
    const { store, project } = this;
    for (const [layer, list] of commit.strokes) {
      const known = this.strokeCounts.get(layer) ?? 0;
      if (list.length < known) {
        await store.strokes
          .where('[project+layer+number]')
          .between([project, layer, list.length], [project, layer, Dexie.maxKey], true, true)
          .delete();
      } else {
        await store.strokes.bulkPut(
          list.slice(known).map((stroke, i) => ({ project, layer, number: known + i, stroke })),
        );
      }
    }
  }
}

const historyRow = (project: string, index: number, entry: HistoryEntry): HistoryRow => ({
  project,
  index,
  entry,
  models: [...new Set([entry.before.model, entry.after.model])],
});

/** The newest steps of a project's history; older ones are wiped. */
export async function loadHistory(
  store: ProjectStore,
  project: string,
  done: number,
  model: string,
): Promise<History> {
  const rows = await store.history
    .where('[project+index]')
    .between([project, Dexie.minKey], [project, Dexie.maxKey])
    .toArray();
  const firstKept = Math.max(0, done - KEPT_STEPS);
  const kept = rows.filter((r) => r.index >= firstKept);
  // A gap would mean that a write was lost: steps before it can't be undone any more.
  let start = kept.length;
  while (start > 0 && (start === kept.length || kept[start - 1]!.index === kept[start]!.index - 1)) start--;
  const whole = kept.slice(start);
  if (whole.length < rows.length || (whole[0] && whole[0].index > 0)) {
    await store.transaction('rw', [store.history, store.projects], async () => {
      await store.history.where({ project }).delete();
      await store.history.bulkPut(whole.map(({ entry }, index) => historyRow(project, index, entry)));
      await store.projects.update(project, { historyDone: Math.max(0, done - (whole[0]?.index ?? done)) });
    });
  }
  return {
    // Steps from before models could change name none.
    entries: whole.map(({ entry }) => ({
      ...entry,
      before: parseDocument(entry.before, model),
      after: parseDocument(entry.after, model),
    })),
    done: Math.max(0, Math.min(whole.length, done - (whole[0]?.index ?? done))),
  };
}
