import type { ProjectDocument } from '../document';
import type { HistoryChange, StrokeEdit } from '../history';
import type { UvMesh } from '../mesh';
import type { Stroke } from '../paint';
import type { TileState } from '../pixels';

/** For the planes whose strokes changed: how many they have now, and those that came at the end. */
export type StrokeChanges = ReadonlyMap<
  number,
  { readonly count: number; readonly added: readonly Stroke[] }
>;

/** A finished change, in full: whoever keeps the project writes all of it at once. */
export interface Commit {
  /** Grows by one with every commit. */
  readonly revision: number;
  readonly document: ProjectDocument;
  /** Tiles that have changed, as they are now. */
  readonly tiles: readonly TileState[];
  readonly history: HistoryChange;
  readonly strokes: StrokeChanges;
  /** Files that are new to the project, by id: pictures and denser models as they were brought in. */
  readonly files: ReadonlyMap<number, Uint8Array>;
  /** A model that is new to the project. */
  readonly model: { readonly hash: string; readonly mesh: UvMesh } | null;
}

/** How a command belongs together with others. */
export interface CommandHow {
  /** Commands of one drag share a name and become one step. */
  readonly gesture?: string | null;
  readonly deed?: Deed | null;
}

/** What a command has brought about. */
export interface CommandResult {
  /** Ids that were given, in order. */
  readonly ids: readonly number[];
  /** Number of the step that it became. */
  readonly step: number;
}

/** Several steps that are undone and done again by one key. */
export interface Deed {
  /** Tells it from all others. */
  readonly id: string;
  readonly label: string;
}

/** A change that is ready to be recorded as a step. */
export interface Change {
  readonly label: string;
  /** What was done; a drag only joins steps of the same kind. */
  readonly kind: string;
  readonly after: ProjectDocument;
  /** Tiles as they are after it, those that belong to the step itself. */
  readonly tiles: readonly TileState[];
  /** Tiles of bases, which undo leaves as they are. */
  readonly baseTiles?: readonly TileState[];
  readonly gesture?: string | null;
  /** The deed of the user that it belongs to, and what that is called. */
  readonly deed?: Deed | null;
  readonly stroke?: { readonly plane: number; readonly stroke: Stroke } | null;
  /** Strokes that it changes after they were made. */
  readonly edit?: StrokeEdit | null;
  /** Hashes of the models that the step needs, where it changes the model. */
  readonly models?: readonly string[];
  readonly model?: Commit['model'];
  readonly files?: Commit['files'];
}
