import { create } from 'zustand';
import type { StrokeSummary } from '../../core/engine';

/** Strokes of the layer in hand that are looked at or chosen, to be changed. */
export interface FilmState {
  readonly strokes: readonly StrokeSummary[];
  readonly hovered: number | null;
  readonly chosen: ReadonlySet<number>;
  /** A press on the picture chooses the stroke that lies there. */
  readonly touching: boolean;
}

export const NO_FILM: FilmState = { strokes: [], hovered: null, chosen: new Set(), touching: false };

export const useFilm = create<FilmState>(() => NO_FILM);

/** Chooses a stroke, alone or beside others. */
export function chooseStroke(number: number, beside: boolean): void {
  useFilm.setState(({ chosen }) => {
    if (!beside) return { chosen: new Set([number]) };
    const next = new Set(chosen);
    if (!next.delete(number)) next.add(number);
    return { chosen: next };
  });
}
