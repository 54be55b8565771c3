import { diffDocuments, type DocumentPatch, type ProjectDocument } from '../document';
import type { Stroke } from '../paint';
import { packedBytes, type PackedTiles } from '../pixels';

/** Strokes of a plane that were changed after they were made. */
export interface StrokeEdit {
  readonly plane: number;
  /** Number of the first of them. */
  readonly at: number;
  readonly before: readonly Stroke[];
  readonly after: readonly Stroke[];
}

/** One step that can be undone or done again. */
export interface HistoryStep {
  readonly label: string;
  /** What was done; a drag only joins steps of the same kind. */
  readonly kind: string;
  readonly patch: DocumentPatch;
  /** The stroke that it added to a plane. */
  readonly stroke: { readonly plane: number; readonly stroke: Stroke } | null;
  /** Strokes of a plane that it changed: from which number on, what they were and what they became. Left out: none. */
  readonly edit?: StrokeEdit | null;
  /** Hashes of the models that it needs, where it changed the model. */
  readonly models: readonly string[];
  /**
   * Pixels on the other side of the step: before it while it is done, after it while it is undone. `away`: they are on disk
   * and must be handed over before the step can be taken.
   */
  readonly tiles: PackedTiles | 'away' | null;
  /** Steps of one deed of the user share a name: they are taken together. Left out: it is a deed by itself. */
  readonly deed?: string;
  /** The form of documents in which it was made; left out before the fourth. */
  readonly form?: number;
}

/** What the interface shows of the history. */
export interface HistoryView {
  readonly undo: string | null;
  readonly redo: string | null;
  /** Number of the step that undo would take back; null if there is none. Steps are numbered from the project's first on. */
  readonly last: number | null;
  /** All steps that are there, the oldest first; null for one that goes on in the next, as the same deed. */
  readonly labels: readonly (string | null)[];
  /** Number of the first of them. */
  readonly first: number;
  /** How many of them are done. */
  readonly done: number;
}

/** How much of the steps' pixels is held in memory, and at most kept at all. */
export const MEMORY_BYTES = 96e6;
export const MOST_BYTES = 1e9;

/** Steps of this many bytes are counted where their pixels are away and nobody knows how many. */
const AWAY_BYTES = 60_000;

export interface HistoryData {
  /** Number of the first step that is there. */
  readonly first: number;
  readonly steps: readonly HistoryStep[];
  /** How many of them are done. */
  readonly done: number;
}

export const EMPTY_HISTORY: HistoryData = { first: 0, steps: [], done: 0 };

/** A drag in progress: its steps become one. */
interface Gesture {
  readonly name: string;
  readonly kind: string;
  /** The document before its first step. */
  readonly before: ProjectDocument;
}

/** Whether two steps are taken together. */
const isOneDeed = (a: HistoryStep | undefined, b: HistoryStep | undefined): boolean =>
  a?.deed !== undefined && a.deed === b?.deed;

/** What changed in a history: what whoever keeps it has to write. */
export interface HistoryChange {
  /** Number of the step that was added or changed. */
  readonly number: number;
  readonly step: HistoryStep;
  /** Whether only its pixels changed (it was undone or done again). */
  readonly onlyTiles: boolean;
  /** Steps before this number have been given up, to save room. */
  readonly first: number;
  /** How many steps there are from the project's beginning on; later ones were thrown away. */
  readonly end: number;
  /** How many steps from the project's beginning on are done. */
  readonly done: number;
}

/** The steps done so far, and those undone since. */
export class History {
  private steps: HistoryStep[];
  private first: number;
  private done: number;
  private gesture: Gesture | null = null;

  constructor({ first, steps, done }: HistoryData = EMPTY_HISTORY) {
    this.first = first;
    this.steps = [...steps];
    this.done = done;
  }

  get data(): HistoryData {
    return { first: this.first, steps: this.steps, done: this.done };
  }

  /** What the interface shows. */
  view(): HistoryView {
    const { steps, done, first } = this;
    return {
      undo: steps[done - 1]?.label ?? null,
      redo: steps[done]?.label ?? null,
      last: done > 0 ? first + done - 1 : null,
      labels: steps.map((s, i) => (isOneDeed(s, steps[i + 1]) ? null : s.label)),
      first,
      done,
    };
  }

  /** The step that would be taken. */
  next(direction: 'undo' | 'redo'): { readonly number: number; readonly step: HistoryStep } | null {
    const index = direction === 'undo' ? this.done - 1 : this.done;
    const step = this.steps[index];
    return step ? { number: this.first + index, step } : null;
  }

  /** The step that would be taken and the others of its deed, in the order in which they are taken. */
  *deed(direction: 'undo' | 'redo'): Iterable<{ readonly number: number; readonly step: HistoryStep }> {
    const way = direction === 'undo' ? -1 : 1;
    let index = direction === 'undo' ? this.done - 1 : this.done;
    let step = this.steps[index];
    while (step) {
      yield { number: this.first + index, step };
      const next = this.steps[(index += way)];
      step = isOneDeed(step, next) ? next : undefined;
    }
  }

  /** Hands over pixels that were away. */
  provide(number: number, tiles: PackedTiles): void {
    const step = this.steps[number - this.first];
    if (step?.tiles === 'away') this.steps[number - this.first] = { ...step, tiles };
  }

  /**
   * Adds a step after those that are done; what was undone is thrown away.
   *
   * @param gesture steps of one drag share a name and become one, if nothing else came between and they have no pixels
   */
  add(
    step: HistoryStep,
    before: ProjectDocument,
    after: ProjectDocument,
    gesture: string | null,
  ): HistoryChange {
    const last = this.steps[this.done - 1];
    const running = this.gesture;
    const joins =
      gesture !== null &&
      gesture !== '' &&
      running?.name === gesture &&
      running.kind === step.kind &&
      this.done === this.steps.length &&
      !step.tiles &&
      !last?.tiles;
    this.steps.length = this.done - (joins ? 1 : 0);
    this.steps.push(joins ? { ...step, patch: diffDocuments(running.before, after) } : step);
    this.done = this.steps.length;
    if (!joins) this.gesture = gesture ? { name: gesture, kind: step.kind, before } : null;
    this.giveUpOld();
    return this.changeOf(this.done - 1, false);
  }

  /** Takes a step. @param tiles pixels of the side that is left */
  take(direction: 'undo' | 'redo', tiles: PackedTiles | null): HistoryChange {
    const index = direction === 'undo' ? this.done - 1 : this.done;
    this.steps[index] = { ...this.steps[index]!, tiles };
    this.done += direction === 'undo' ? -1 : 1;
    this.gesture = null;
    return this.changeOf(index, true);
  }

  /** Ends a drag: whatever comes next is a step of its own. */
  endGesture(): void {
    this.gesture = null;
  }

  /** Lets go of pixels that are on disk as well, those farthest from the present first. @param isKept whether a step is on disk */
  release(isKept: (number: number) => boolean, budget = MEMORY_BYTES): void {
    let bytes = 0;
    const order = this.steps
      .map((_, i) => i)
      .sort((a, b) => Math.abs(a - this.done) - Math.abs(b - this.done));
    for (const i of order) {
      const step = this.steps[i]!;
      if (!step.tiles || step.tiles === 'away') continue;
      bytes += packedBytes(step.tiles);
      if (bytes > budget && isKept(this.first + i)) this.steps[i] = { ...step, tiles: 'away' };
    }
  }

  private giveUpOld(): void {
    let bytes = 0;
    for (let i = this.steps.length - 1; i >= 0; i--) {
      const { tiles } = this.steps[i]!;
      bytes += tiles === 'away' ? AWAY_BYTES : tiles ? packedBytes(tiles) : 200;
      if (bytes <= MOST_BYTES || i === this.steps.length - 1) continue;
      this.steps.splice(0, i + 1);
      this.first += i + 1;
      this.done -= i + 1;
      return;
    }
  }

  private changeOf(index: number, onlyTiles: boolean): HistoryChange {
    return {
      number: this.first + index,
      step: this.steps[index]!,
      onlyTiles,
      first: this.first,
      end: this.first + this.steps.length,
      done: this.first + this.done,
    };
  }
}
