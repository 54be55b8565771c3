import { Dexie } from 'dexie';
import type { Commit } from '../core/engine';
import type { HistoryData, HistoryStep } from '../core/history';
import { CoreError, type ErrorCode } from '../core/errors';
import { addProject, storageError, tileRow, type NewProject } from './projects';
import type { HistoryRow, PageRow, ProjectStore } from './schema';
import { type Pending, merge, join } from './pending';

/** So much room there must be before a database that has failed is opened anew. */
const ROOM_BYTES = 4 << 20;

/** How long to wait before trying again to write what could not be written. */
const RETRY_MS = 3000;

export type KeepState =
  /** `call`: number of the last call whose work is on disk. */
  | { readonly kept: true; readonly at: number; readonly call: number }
  /** Being written; with an error, what stands in the way. It is tried again. */
  | {
      readonly kept: false;
      readonly waiting: number;
      readonly error: { readonly code: ErrorCode; readonly message: string } | null;
    };

/** All of a project, as it is in memory. */
export interface WholeProject extends NewProject {
  readonly history: HistoryData;
}

export interface PersistenceOptions {
  /** Opens the database, anew after it has failed. */
  readonly open: () => ProjectStore;
  readonly project: string;
  /** Names the session in what is written, so that a successor knows which calls are in it. */
  readonly session: string;
  readonly tell: (state: KeepState) => void;
  /**
   * Asked for where the browser has thrown the project away while it is open. Null while a stroke is in hand, whose pixels are half there:
   * it is asked again.
   */
  readonly whole: () => WholeProject | null;
  /** Whether there is room to write; by default it is tried. */
  readonly hasRoom?: () => Promise<boolean>;
}

/**
 * Writes every commit of a project as it happens. What can't be written is kept, put together with what comes, and tried again with
 * the database opened anew, so that a full disk loses nothing while the page is open.
 */
export class PersistenceQueue {
  private readonly options: PersistenceOptions;
  private store_: ProjectStore;
  private pending: Pending | null = null;
  private busy: Promise<void> | null = null;
  private failed = false;
  /** The call whose work is being kept, and the last of which it was told that it is on disk. */
  private made = 0;
  private told = 0;
  /** The last call that is finished: what is in memory holds its work, and nothing of a later one but what waits to be written. */
  private finished = 0;
  /** Steps whose pixels are on disk. */
  private readonly pagesOnDisk = new Set<number>();

  constructor(options: PersistenceOptions) {
    this.options = options;
    this.store_ = options.open();
  }

  /** Whether the pixels of a step are on disk as they are now. */
  isKept(step: number): boolean {
    return this.pagesOnDisk.has(step) && !this.pending?.pages.has(step);
  }

  /** A call begins: what is to be kept from now on is its work. */
  begin(call: number): void {
    this.made = call;
  }

  /** It is finished, whatever came of it. */
  done(): void {
    this.finished = this.made;
    if (!this.pending && !this.busy) this.tellKept();
  }

  private tellKept(): void {
    if (this.told >= this.made) return;
    this.told = this.made;
    this.options.tell({ kept: true, at: Date.now(), call: this.made });
  }

  keep(commit: Commit): void {
    const first = this.pending === null;
    this.pending = merge(this.pending, commit, this.made);
    if (first && !this.failed) this.options.tell({ kept: false, waiting: 1, error: null });
    if (!this.failed) this.busy ??= this.work();
  }

  /** Resolves when everything is on disk, or when the last try has failed. */
  async settled(): Promise<void> {
    await this.busy;
  }

  private async work(): Promise<void> {
    while (this.pending) {
      const { pending } = this;
      this.pending = null;
      try {
        await this.write(pending);
        this.failed = false;
        for (const [step, page] of pending.pages) {
          if (page) this.pagesOnDisk.add(step);
          else this.pagesOnDisk.delete(step);
        }
        if (!this.pending) {
          this.told = this.made;
          this.options.tell({ kept: true, at: Date.now(), call: this.made });
        }
      } catch (error) {
        this.putBack(pending);
        this.failed = true;
        // Plain words and a code: an error object would lose its code on the way out of the worker.
        const { code, message } = storageError(error);
        this.options.tell({ kept: false, waiting: this.pending!.commits, error: { code, message } });
        setTimeout(() => void this.retry(), RETRY_MS);
        break;
      }
    }
    this.busy = null;
  }

  /**
   * After a full disk a connection may stay broken though there is room again: another one is opened. Not before there is room, since a
   * browser that opens a database on a full disk may take it for broken and throw all of it away.
   */
  private async retry(): Promise<void> {
    if (!this.pending || this.busy) return;
    if (!(await (this.options.hasRoom ?? hasRoom)())) {
      setTimeout(() => void this.retry(), RETRY_MS);
      return;
    }
    this.store_.close();
    this.store_ = this.options.open();
    this.busy = this.work();
    await this.busy;
  }

  /** What wasn't written is written together with what has come since. */
  private putBack(old: Pending): void {
    this.pending = this.pending ? join(old, this.pending) : old;
  }

  private write(pending: Pending): Promise<void> {
    const store = this.store_;
    const { project, session } = this.options;
    const tables = [
      store.projects,
      store.models,
      store.tiles,
      store.strokes,
      store.history,
      store.pages,
      store.pictures,
    ];
    return store.transaction('rw', tables, async () => {
      const { document } = pending;
      const found = await store.projects.update(project, {
        document,
        modelHash: document.model,
        name: document.name,
        updatedAt: Date.now(),
        historyDone: pending.historyDone,
        journal: { session, call: pending.call },
      });
      if (found === 0) return this.writeWhole(store, pending.call);
      for (const [hash, mesh] of pending.models) await store.models.put({ hash, mesh });
      for (const [id, bytes] of pending.files) await store.pictures.put({ project, id, bytes });
      const states = [...pending.tiles.values()];
      await store.tiles.bulkPut(states.flatMap((state) => tileRow(project, state) ?? []));
      const emptied = states.flatMap(({ plane, tile, bytes }) =>
        bytes ? [] : [[project, plane, tile] as [string, number, number]],
      );
      if (emptied.length) await store.tiles.bulkDelete(emptied);
      await this.writeStrokes(store, pending);
      await this.writeHistory(store, pending);
    });
  }

  /**
   * The browser has thrown the project away, as it does with a database that it takes for broken: all that is in memory is written anew.
   * What could be undone only with pixels or models that were on disk is lost.
   */
  private async writeWhole(store: ProjectStore, call: number): Promise<void> {
    const { project, session, whole } = this.options;
    const data = whole();
    if (!data) {
      throw new CoreError(
        'storage-failed',
        'The browser has thrown the project away. All of it is held in memory and written again when the stroke in hand has ended.',
      );
    }
    // What came while this was being written is in memory, too: done again after a crash, it would be there twice.
    const journal = { session, call: Math.max(call, this.finished, this.pending?.call ?? 0) };
    const { first, done, steps } = data.history;
    const isLost = (step: HistoryStep): boolean => step.tiles === 'away' || step.models.length > 0;
    const from = first + steps.slice(0, done - first).findLastIndex(isLost) + 1;
    const undone = steps.slice(done - first).findIndex(isLost);
    const end = undone < 0 ? first + steps.length : done + undone;
    const now = Date.now();
    await addProject(store, project, data, now, null, data.document.model || undefined);
    await store.projects.update(project, { historyDone: done, journal });
    this.pagesOnDisk.clear();
    const kept = steps.slice(from - first, end - first);
    await store.history.bulkPut(
      kept.map(({ tiles, ...step }, i) => ({
        project,
        index: from + i,
        step: { ...step, hasTiles: tiles !== null },
        models: step.models,
      })),
    );
    await store.pages.bulkPut(
      kept.flatMap(({ tiles }, i) =>
        tiles && tiles !== 'away' ? [{ project, index: from + i, tiles }] : [],
      ),
    );
  }

  private async writeStrokes(store: ProjectStore, { strokes }: Pending): Promise<void> {
    const { project } = this.options;
    for (const [plane, { count, kept, added }] of strokes) {
      await store.strokes
        .where('[project+layer+number]')
        .between([project, plane, kept], [project, plane, Dexie.maxKey], true, true)
        .delete();
      const rows = added
        .slice(0, count - kept)
        .map((stroke, i) => ({ project, layer: plane, number: kept + i, stroke }));
      if (rows.length) await store.strokes.bulkPut(rows);
    }
  }

  private async writeHistory(store: ProjectStore, pending: Pending): Promise<void> {
    const { project } = this.options;
    const rows: HistoryRow[] = [];
    const pages: PageRow[] = [];
    for (const [index, { tiles, ...step }] of pending.steps) {
      rows.push({ project, index, step: { ...step, hasTiles: tiles !== null }, models: step.models });
    }
    const blank: [string, number][] = [];
    for (const [index, tiles] of pending.pages) {
      if (tiles) pages.push({ project, index, tiles });
      else blank.push([project, index]);
    }
    for (const table of [store.history, store.pages]) {
      const range = (from: unknown, to: unknown, until: boolean) =>
        table.where('[project+index]').between([project, from], [project, to], true, until).delete();
      await range(pending.historyEnd, Dexie.maxKey, true);
      if (pending.historyFirst > 0) await range(Dexie.minKey, pending.historyFirst, false);
    }
    if (rows.length) await store.history.bulkPut(rows);
    if (blank.length) await store.pages.bulkDelete(blank);
    if (pages.length) await store.pages.bulkPut(pages);
  }
}

/** Tries to write a little beside the database. Where nothing can be tried there may be room. */
async function hasRoom(): Promise<boolean> {
  const { storage } = globalThis.navigator ?? {};
  if (typeof storage?.getDirectory !== 'function') return true;
  try {
    const folder = await storage.getDirectory();
    const file = await folder.getFileHandle('room', { create: true });
    const stream = await file.createWritable();
    await stream.write(new Uint8Array(ROOM_BYTES));
    await stream.close();
    await folder.removeEntry('room');
    return true;
  } catch (error) {
    // Where files may not be written at all nothing is known of the room.
    return error instanceof DOMException && ['SecurityError', 'NotAllowedError'].includes(error.name);
  }
}
