import { z } from 'zod';
import { cueSpec, type CueSpec } from '../core/cues';
import type {
  BuildUpView,
  CarryLayer,
  Command,
  HistoryView,
  ModelChange,
  ModelState,
  ProjectDocument,
} from '../core/engine';
import type { UvMesh } from '../core/mesh';
import { SAMPLE_STRIDE, strokeSchema, type StrokeStyle } from '../core/paint';
import type { SurfaceMap } from '../core/surface';
import type { KeepState } from './keeper';

/** Values of a cue for some tiles, in tile order. */
export interface CueTiles {
  readonly spec: CueSpec;
  readonly tiles: readonly number[];
  /** 4096 values a tile, one tile after the other. */
  readonly values: Uint16Array;
}

export type PaintMethods = {
  open: { params: { project: string; mesh: UvMesh; surface: SurfaceMap }; result: null };
  command: { params: { command: Command; gesture: string | null }; result: null };
  strokeBegin: { params: { layer: number; style: StrokeStyle }; result: null };
  strokeExtend: { params: { samples: Float64Array; lift: boolean }; result: null };
  strokeEnd: { params: null; result: null };
  strokeCancel: { params: null; result: null };
  undo: { params: null; result: boolean };
  redo: { params: null; result: boolean };
  cueTiles: { params: CueTiles; result: null };
  cue: { params: { spec: CueSpec; values: Uint16Array }; result: null };
  /** Every paint layer with its pixels and strokes, to be carried to another model. */
  paintLayers: { params: null; result: CarryLayer[] };
  /** Changes the model, its layout or the sheet's size together with all paint, as one step. */
  changeModel: { params: ModelChange; result: null };
  view: { params: BuildUpView; result: null };
  /** The whole build-up on a sheet, rows from the top. */
  sheet: { params: { sheet: number }; result: Uint8Array };
  /** The project as a file. */
  projectFile: { params: null; result: Uint8Array };
  /** Resolves when all is on disk, or can't be put there. */
  settle: { params: null; result: null };
};

export interface PaintState {
  readonly document: ProjectDocument;
  readonly history: HistoryView;
  readonly strokes: number;
  readonly missingCues: readonly CueSpec[];
}

export type PaintEvents = {
  state: PaintState;
  /** Another model is in hand from now on. */
  model: ModelState;
  /** Freshly composited tiles: numbers over all sheets, and 64 x 64 RGBA rows a tile, one after the other. */
  tiles: { readonly tiles: readonly number[]; readonly pixels: Uint8Array };
  /** Tiles still to be composited. */
  pending: number;
  keep: KeepState;
};

/** What comes in by message is checked like everything else from outside. */
export const strokeBeginParams = z.object({
  layer: z.int().nonnegative(),
  style: strokeSchema.omit({ runs: true }),
});
export const strokeExtendParams = z.object({
  samples: z
    .instanceof(Float64Array)
    .refine(
      (a) => a.length % SAMPLE_STRIDE === 0 && a.every(Number.isFinite),
      'whole, finite samples are expected',
    ),
  lift: z.boolean(),
});
export const viewParams = z.object({ alone: z.int().nullable(), maskOf: z.int().nullable() });
export const cueParams = z.object({ spec: cueSpec, values: z.instanceof(Uint16Array) });
