import type { Commit } from '../core/engine';
import type { HistoryStep } from '../core/history';
import type { PackedTiles, TileState } from '../core/pixels';
import type { ProjectDocument } from '../core/document';
import type { UvMesh } from '../core/mesh';
import type { Stroke } from '../core/paint';

/** What has changed since the last write, in one: whatever happened in between, the last state is what counts. */
export interface Pending {
  commits: number;
  call: number;
  document: ProjectDocument;
  historyFirst: number;
  historyEnd: number;
  historyDone: number;
  readonly tiles: Map<string, TileState>;
  readonly strokes: Map<number, { count: number; kept: number; added: Stroke[] }>;
  readonly steps: Map<number, HistoryStep>;
  readonly pages: Map<number, PackedTiles | null>;
  readonly models: Map<string, UvMesh>;
  readonly files: Map<number, Uint8Array>;
}

/** Adds a commit to what has to be written. */
export function merge(pending: Pending | null, commit: Commit, call: number): Pending {
  const { history, document } = commit;
  const { step, number, onlyTiles } = history;
  // A step that was only swapped stays as it is but for its pixels.
  const isNew = !onlyTiles || (pending?.steps.has(number) ?? false);
  const later: Pending = {
    commits: 1,
    call,
    document,
    historyFirst: history.first,
    historyEnd: history.end,
    historyDone: history.done,
    tiles: new Map(commit.tiles.map((state) => [`${state.plane} ${state.tile}`, state])),
    strokes: new Map(
      [...commit.strokes].map(([plane, { count, added }]) => [
        plane,
        { count, kept: count - added.length, added: [...added] },
      ]),
    ),
    steps: new Map(isNew ? [[number, step]] : []),
    pages: new Map(step.tiles === 'away' ? [] : [[number, step.tiles]]),
    models: new Map(commit.model ? [[commit.model.hash, commit.model.mesh]] : []),
    files: new Map(commit.files),
  };
  return pending ? join(pending, later) : later;
}

/** What has to be written of two changes, one after the other. Steps that the later one threw away aren't written. */
export function join(earlier: Pending, later: Pending): Pending {
  for (const [key, tile] of later.tiles) earlier.tiles.set(key, tile);
  for (const [plane, list] of later.strokes) {
    const known = earlier.strokes.get(plane);
    if (known) joinStrokes(known, list);
    else earlier.strokes.set(plane, list);
  }
  for (const [hash, mesh] of later.models) earlier.models.set(hash, mesh);
  for (const [id, bytes] of later.files) earlier.files.set(id, bytes);
  const { historyFirst, historyEnd } = later;
  for (const n of [...earlier.steps.keys(), ...earlier.pages.keys()]) {
    if (n < historyEnd && n >= historyFirst) continue;
    earlier.steps.delete(n);
    earlier.pages.delete(n);
  }
  for (const [n, step] of later.steps) earlier.steps.set(n, step);
  for (const [n, page] of later.pages) earlier.pages.set(n, page);
  const { call, document, historyDone } = later;
  return Object.assign(earlier, {
    commits: earlier.commits + later.commits,
    call,
    document,
    historyFirst,
    historyEnd,
    historyDone,
  });
}

/** A plane's strokes up to `kept` are on disk already; `added` are those from there to `count`. */
function joinStrokes(
  earlier: { count: number; kept: number; added: Stroke[] },
  later: { count: number; kept: number; added: readonly Stroke[] },
): void {
  earlier.added.length = Math.max(0, Math.min(earlier.added.length, later.kept - earlier.kept));
  earlier.added.push(...later.added);
  earlier.count = later.count;
  if (later.kept < earlier.kept) earlier.kept = later.kept;
}
