import { create } from 'zustand';
import type { Look } from './looks';
import type { Rgb } from '../../core/color';

export const STAGES = ['model', 'unwrap', 'block-in', 'form', 'paint', 'match', 'deliver'] as const;
export type StageName = (typeof STAGES)[number];
export const isStage = (name: string | undefined): name is StageName =>
  (STAGES as readonly (string | undefined)[]).includes(name);

/** A brush as it lies in the tray. Size in screen pixels across. */
export interface Brush {
  readonly name: string;
  readonly size: number;
  /** 0 hard, 1 soft. */
  readonly edge: number;
  readonly opacity: number;
  readonly spacing: number;
  readonly erase: boolean;
}

export const BRUSHES: readonly Brush[] = [
  { name: 'Wide glaze', size: 120, edge: 0.9, opacity: 0.3, spacing: 0.1, erase: false },
  { name: 'Soft shade', size: 64, edge: 1, opacity: 0.55, spacing: 0.1, erase: false },
  { name: 'Flat paint', size: 36, edge: 0.25, opacity: 1, spacing: 0.1, erase: false },
  { name: 'Sharp line', size: 8, edge: 0.1, opacity: 1, spacing: 0.08, erase: false },
  { name: 'Eraser', size: 48, edge: 0.4, opacity: 1, spacing: 0.1, erase: true },
];

export interface UiState {
  readonly brushes: readonly Brush[];
  readonly brush: number;
  readonly color: string;
  readonly selectedLayer: number | null;
  /** Layers that are chosen beside that one. */
  readonly alsoChosen: ReadonlySet<number>;
  /** Groups whose layers aren't listed. */
  readonly folded: ReadonlySet<number>;
  /** Strokes go onto the chosen layer's mask. */
  readonly editMask: boolean;
  /** Strokes on a mask hide instead of revealing. */
  readonly maskHides: boolean;
  readonly selectedPart: number | null;
  readonly alone: number | null;
  readonly maskOf: number | null;
  readonly look: Look;
  readonly ground: number;
  readonly panes: 'model' | 'both' | 'sheet';
  readonly split: number;
  /** The sheet in the flat view. */
  readonly sheet: number;
  /** Parts that are not shown. */
  readonly hidden: ReadonlySet<number>;
  readonly guardPart: boolean;
  readonly guardNear: boolean;
  readonly pressureSize: boolean;
  readonly pressureOpacity: boolean;
  /** The next press takes a colour instead of painting. */
  readonly picking: boolean;
  readonly aimingLight: boolean;
  readonly reference: number | null;
  readonly referenceGrey: boolean;
  readonly pickSize: 1 | 5 | 15;
  /** The colour under the pointer on the model or the sheet. */
  readonly under: Rgb | null;
  readonly commandList: boolean;
}

export const useUi = create<UiState>(() => ({
  brushes: BRUSHES,
  brush: 1,
  color: '#cf5a2e',
  selectedLayer: null,
  alsoChosen: new Set(),
  folded: new Set(),
  editMask: false,
  maskHides: true,
  selectedPart: null,
  alone: null,
  maskOf: null,
  look: 'unlit',
  ground: 0.5,
  panes: 'both',
  split: 0.66,
  sheet: 0,
  hidden: new Set(),
  guardPart: true,
  guardNear: true,
  pressureSize: false,
  pressureOpacity: true,
  picking: false,
  aimingLight: false,
  reference: null,
  referenceGrey: false,
  pickSize: 5,
  under: null,
  commandList: false,
}));

export const brushInHand = (s: UiState): Brush => s.brushes[s.brush]!;

export function changeBrush(patch: Partial<Brush>): void {
  useUi.setState((s) => ({ brushes: s.brushes.map((b, i) => (i === s.brush ? { ...b, ...patch } : b)) }));
}
