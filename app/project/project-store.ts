import { create } from 'zustand';
import type { CueSpec } from '../../core/cues';
import { layersOf, type ProjectDocument } from '../../core/document';
import type { HistoryView } from '../../core/history';
import type { UvMesh } from '../../core/mesh';
import type { SurfaceMap } from '../../core/surface';
import type { KeepState } from '../../storage';

/** A view of the open project; the paint worker holds the project itself. */
export interface ProjectView {
  readonly status: 'closed' | 'opening' | 'ready' | 'failed';
  readonly id: string;
  /** Why it could not be opened. */
  readonly problem: string;
  /** It failed while it was open: what it holds can still be saved as a file. */
  readonly rescue: boolean;
  readonly document: ProjectDocument | null;
  readonly history: HistoryView;
  readonly strokes: number;
  /** A stroke is being made, or what it came to hasn't been told yet. */
  readonly isPainting: boolean;
  readonly missingCues: readonly CueSpec[];
  /** Cues that failed or were stopped, by key: they aren't begun again by themselves. */
  readonly stoppedCues: ReadonlySet<string>;
  readonly mesh: UvMesh | null;
  readonly surface: SurfaceMap | null;
  readonly keep: KeepState | null;
  /** Tiles still to be composited. */
  readonly pending: number;
  /** Another tab paints on it: here it is only looked at, and follows. */
  readonly follows: boolean;
  /** It has to be opened anew: the other tab was closed, or has changed the model. */
  readonly reopens: number;
}

export const CLOSED: ProjectView = {
  status: 'closed',
  id: '',
  problem: '',
  rescue: false,
  document: null,
  history: { undo: null, redo: null, last: null, labels: [], first: 0, done: 0 },
  strokes: 0,
  isPainting: false,
  missingCues: [],
  stoppedCues: new Set(),
  mesh: null,
  surface: null,
  keep: null,
  pending: 0,
  follows: false,
  reopens: 0,
};

export const useProject = create<ProjectView>(() => CLOSED);

/** Nothing is painted, no part has a colour and nothing follows the form yet. */
export const isUntouchedProject = ({ document, strokes, isPainting }: ProjectView): boolean =>
  document !== null &&
  strokes === 0 &&
  !isPainting &&
  document.bases.length === 0 &&
  !document.ramps?.seats.length &&
  layersOf(document.layers).every(
    (l) =>
      l.mask.length === 0 &&
      (l.kind === 'paint' || (l.kind === 'local' && l.colors.length + l.regions.length === 0)),
  );
