import { create } from 'zustand';
import type { Vec3, Placing } from '../../core/math';
import type { StrokeBegin } from '../../workers';
import type { Drawn, LineShape, PointerAt } from '../viewport';

/** What a press on the picture does at Paint. */
export const PAINT_TOOLS = [
  'brush',
  'soften',
  'smear',
  'deepen',
  'lift',
  'copy',
  'through',
  'fill',
  'lasso',
  'rectangle',
  'ellipse',
  'decal',
  'ink',
] as const;
export type PaintTool = (typeof PAINT_TOOLS)[number];

/** Tools that draw a closed line. */
export const LINE_TOOLS = ['lasso', 'rectangle', 'ellipse'] as const satisfies readonly PaintTool[];

/** Tools that cover an area instead of following a stroke. */
export const isLineTool = (tool: PaintTool): tool is LineShape =>
  tool === 'lasso' || tool === 'rectangle' || tool === 'ellipse';

export const FILL_SCOPES = ['part', 'shell', 'island', 'region', 'like'] as const;
export type FillScope = (typeof FILL_SCOPES)[number];

export const AXES = ['x', 'y', 'z'] as const;
export type Axis = (typeof AXES)[number];

/** Where the planes and the axis of a symmetry stand. */
export const ABOUTS = ['zero', 'model', 'part', 'place'] as const;
export type About = (typeof ABOUTS)[number];

export interface SymmetryWish {
  readonly on: boolean;
  /** Planes by the axes that stand on them. */
  readonly planes: readonly Axis[];
  /** `normal`: out of the surface at the place. */
  readonly axis: Axis | 'normal' | null;
  readonly count: number;
  /** Degrees. */
  readonly span: number;
  readonly about: About;
  readonly place: Vec3 | null;
  /** The way out of the surface there. */
  readonly normal: Vec3;
  /** Over planes it goes by how the triangles hang together. */
  readonly twins: boolean;
  /** The next press on the model sets the place. */
  readonly placing: boolean;
}

/** How a stroke follows the pointer. */
export const PATHS = ['free', 'line', 'arc'] as const;
export type Path = (typeof PATHS)[number];

/** A place on a reference from which is copied. */
export interface ReferencePlace {
  readonly reference: number;
  /** The project's pattern that holds it. */
  readonly pattern: number;
  /** Pixels of the pattern. */
  readonly x: number;
  readonly y: number;
  /** Pixels of the pattern a pixel of the screen, as the reference was looked at. */
  readonly scale: number;
}

/** An arc whose ends are set: it waits for the press through which it is to run. */
export interface Bend {
  readonly at: PointerAt;
  readonly to: { readonly x: number; readonly y: number };
  readonly stroke: StrokeBegin;
  /** What was in hand. */
  readonly tool: PaintTool;
}

/** A picture that lies over the model, to be painted through. */
export interface Through {
  readonly reference: number;
  /** The project's pattern that holds it. */
  readonly pattern: number;
  /** Its upper left corner and its width in the model's pane, CSS pixels. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly opacity: number;
  /** It lies as its own camera sees the model, from wherever one looks. */
  readonly bound: boolean;
}

export interface PaintState {
  readonly tool: PaintTool;
  /** Held for a moment: the brush takes paint away. */
  readonly erasing: boolean;
  readonly scope: FillScope;
  /** How much colours may differ that count as alike, CIEDE2000. */
  readonly tolerance: number;
  /** Lines go through to what lies behind. */
  readonly behind: boolean;
  /** By how much colours are deepened or lifted. */
  readonly lightness: number;
  readonly chroma: number;
  /** From where is copied: a place, the other side of the symmetry's first plane, or a place on a reference. */
  readonly source: Vec3 | 'other side' | ReferencePlace | null;
  /** The next press on the model, or on a reference, sets the source. */
  readonly sourcing: 'model' | 'reference' | null;
  /** What leads from where is painted to the source, once a first stroke has begun: a place's placing, or the view of a reference. */
  readonly offset: Placing | null;
  readonly path: Path;
  /** What a stroke will follow that isn't laid yet, pixels of its pane. */
  readonly ruled: Drawn | null;
  readonly bend: Bend | null;
  /** What the brush can reach is shown where the pointer rests. */
  readonly showsReach: boolean;
  readonly symmetry: SymmetryWish;
  readonly symmetryOpen: boolean;
  readonly through: Through | null;
  /** A drag moves that picture instead of painting. */
  readonly movesThrough: boolean;
  readonly line: Drawn | null;
  /** What the next decal shows: a picture of the project, or words. */
  readonly decalPicture: number | null;
  readonly decalWords: string;
  /** The next press sets another decal, instead of moving the one in hand. */
  readonly decalFresh: boolean;
}

export const NO_PAINT: PaintState = {
  tool: 'brush',
  erasing: false,
  scope: 'part',
  tolerance: 4,
  behind: false,
  lightness: 0.12,
  chroma: 0,
  source: null,
  sourcing: null,
  offset: null,
  path: 'free',
  ruled: null,
  bend: null,
  showsReach: false,
  symmetry: {
    on: false,
    planes: ['x'],
    axis: null,
    count: 8,
    span: 360,
    about: 'zero',
    place: null,
    normal: [0, 1, 0],
    twins: false,
    placing: false,
  },
  symmetryOpen: false,
  through: null,
  movesThrough: false,
  line: null,
  decalPicture: null,
  decalWords: '',
  decalFresh: false,
};

/** What the hand does at Paint, in the open project. */
export const usePaint = create<PaintState>(() => NO_PAINT);

/** A brush was taken: what covers areas is laid down for it. */
export const takeBrushTool = (): void =>
  usePaint.setState(({ tool }) =>
    tool === 'fill' || tool === 'decal' || tool === 'ink' || isLineTool(tool) ? { tool: 'brush' } : {},
  );

/** Takes a tool in hand; the one that is there already is laid down. */
export const takeTool = (tool: PaintTool): void =>
  usePaint.setState((s) => ({ tool: s.tool === tool ? 'brush' : tool, sourcing: null }));

/** How strokes follow the pointer; the same once more: freely again. */
export const takePath = (path: Path): void =>
  usePaint.setState((s) => ({ path: s.path === path ? 'free' : path, ruled: null, bend: null }));

export const changeSymmetry = (patch: Partial<SymmetryWish>): void =>
  usePaint.setState((s) => ({ symmetry: { ...s.symmetry, ...patch } }));

/** Switches the symmetry on or off; without any plane or axis it begins with left and right. */
export function toggleSymmetry(): void {
  const { symmetry } = usePaint.getState();
  const empty = symmetry.planes.length === 0 && !symmetry.axis;
  changeSymmetry({ on: !symmetry.on, ...(empty && { planes: ['x'] }) });
}
