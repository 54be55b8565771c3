import { create } from 'zustand';
import type { InkStyle } from '../../core/ink';

/** What a press does with the ink tool: draws freely, sets point after point, or changes lines that are there. */
export const INK_MODES = ['draw', 'points', 'change'] as const;
export type InkMode = (typeof INK_MODES)[number];

/** A point of a line. */
export interface InkPoint {
  readonly line: number;
  readonly index: number;
}

export interface InkState {
  readonly mode: InkMode;
  /** Lines of the layer in hand that are chosen. */
  readonly chosen: readonly number[];
  readonly point: InkPoint | null;
  /** How the next line is drawn; null: as usual on the model in hand. */
  readonly style: InkStyle | null;
  /** The line that point after point is put to. */
  readonly growing: number | null;
  /** Its first point, before there is a line. */
  readonly first: readonly [number, number, number] | null;
  /** How far a fitted line may lie off the hand's, pixels. */
  readonly tolerance: number;
  /** A line that begins or ends at the end of another goes on from it. */
  readonly joins: boolean;
}

export const NO_INK: InkState = {
  mode: 'draw',
  chosen: [],
  point: null,
  style: null,
  growing: null,
  first: null,
  tolerance: 2,
  joins: true,
};

export const useInk = create<InkState>(() => NO_INK);

/** Chooses a line, alone or beside others; one that is chosen already beside others no longer. */
export function chooseLine(line: number, beside: boolean): void {
  useInk.setState(({ chosen }) => ({
    point: null,
    chosen: !beside ? [line] : chosen.includes(line) ? chosen.filter((l) => l !== line) : [...chosen, line],
  }));
}
