import { create } from 'zustand';
import type { Cut } from '../../core/region';

export const FACE_TOOLS = [
  'part',
  'brush',
  'lasso',
  'rectangle',
  'area',
  'side',
  'shell',
  'island',
  'like',
] as const;
export type FaceTool = (typeof FACE_TOOLS)[number];

/** Triangles that are chosen at the Block in stage, and what lines were drawn through some of them. */
export interface FaceChoice {
  readonly tool: FaceTool;
  readonly faces: ReadonlySet<number>;
  readonly cuts: readonly Cut[];
  /** Presses take off instead of adding. */
  readonly takesOff: boolean;
  /** Lines enclose what lies behind too. */
  readonly through: boolean;
  /** Lines cut through triangles; if not, these go as a whole by their middles. */
  readonly cutsThrough: boolean;
  /** How much colours may differ that a flood goes over, CIEDE2000, and whether it goes over all alike. */
  readonly tolerance: number;
  readonly everywhere: boolean;
  /** On both sides of x = 0. */
  readonly mirror: boolean;
  /** What the line in hand has gone through, in pixels of its pane. */
  readonly line: {
    readonly pane: 'model' | 'sheet';
    readonly points: readonly (readonly [number, number])[];
  } | null;
}

export const NO_CHOICE: FaceChoice = {
  tool: 'part',
  faces: new Set(),
  cuts: [],
  takesOff: false,
  through: false,
  cutsThrough: true,
  tolerance: 4,
  everywhere: false,
  mirror: false,
  line: null,
};

export const useFaceChoice = create<FaceChoice>(() => NO_CHOICE);

/** Nothing is chosen any more. */
export const chooseNoFaces = (): void => useFaceChoice.setState({ faces: new Set(), cuts: [] });

export const someFacesChosen = ({ faces, cuts }: FaceChoice): boolean => faces.size > 0 || cuts.length > 0;
