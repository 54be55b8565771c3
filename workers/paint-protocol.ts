import { z } from 'zod';
import { cueSpec, type CueSpec } from '../core/cues';
import { CHANNELS, type Channel, type InkFigures } from '../core/layers';
import { DETAILS, type ProjectDocument } from '../core/document';
import { guardWishSchema, type Command, type GuardWish, type NodePatch } from '../core/commands';
import type {
  AttachCommand,
  CommandResult,
  Deed,
  ModelChange,
  ModelChanged,
  ModelState,
  ReachMap,
  StrokeSummary,
} from '../core/engine';
import type { BuildUpView } from '../core/compositor';
import type { InkLine } from '../core/ink';
import type { HistoryView } from '../core/history';
import type { ChannelPaint } from '../core/model';
import type { OraImage } from '../core/formats';
import type { Vec3 } from '../core/math';
import type { Motion } from '../core/motion';
import { SAMPLE_STRIDE, strokeStyleSchema, type StrokeStyle } from '../core/paint';
import type { KeepState } from '../storage';

/** Values of a cue for some tiles, in tile order. */
export interface CueTiles {
  readonly spec: CueSpec;
  /** Names what it was measured on; empty: the model itself. */
  readonly on: string;
  readonly tiles: readonly number[];
  /** 4096 values a tile, one tile after the other. */
  readonly values: Uint16Array;
}

/** Calls that change the project name themselves, so that what isn't on disk yet can be done again by a successor. */
interface Numbered {
  /** Grows by one with every such call of a session. */
  readonly call: number;
}

/** What a stroke begins with. */
export interface StrokeBegin {
  readonly layer: number;
  readonly channel: Channel;
  readonly guard: GuardWish | null;
  /** Only what is painted already is changed. */
  readonly keepAlpha: boolean;
  readonly style: StrokeStyle;
  /** Only what is like the layer at a texel. */
  readonly like: { readonly texel: number; readonly tolerance: number } | null;
  /** The picture that the brush's tip is. */
  readonly tip: { readonly name: string; readonly png: Uint8Array } | null;
}

export type PaintMethods = {
  /** Begins to read a project that will be opened: meanwhile the page measures its model. */
  prepare: { params: { project: string }; result: null };
  /**
   * `model`: the one that the page has; another one that storage may hold is measured and told. `follows`: another tab paints on the
   * project; here it is only looked at, and nothing is written.
   * @returns the last call of the session that is in what was opened already
   */
  open: {
    params: { project: string; session: string; model: ModelState; follows: boolean };
    result: number;
  };
  command: {
    params: Numbered & { command: Command; gesture: string | null; deed: Deed | null };
    result: CommandResult;
  };
  /** A command with what it came with. */
  attach: {
    params: Numbered & { command: AttachCommand; files: readonly Uint8Array[]; deed: Deed | null };
    result: CommandResult;
  };
  /** A file that the project holds, by its id; null if there is none. */
  file: { params: { id: number }; result: Uint8Array | null };
  /** How the model's file moves; null if it doesn't. */
  motion: { params: null; result: Motion | null };
  strokeBegin: { params: Numbered & StrokeBegin; result: null };
  strokeExtend: { params: Numbered & { samples: Float64Array; lift: boolean }; result: null };
  strokeEnd: { params: Numbered; result: null };
  strokeCancel: { params: Numbered; result: null };
  /** What a stroke that would begin on a surface facing so may change. */
  reach: { params: StrokeBegin & { normal: Vec3 }; result: ReachMap };
  /** Shows a layer as it was after so many of its strokes that can be changed; null: as it is. */
  film: { params: { layer: number; channel: Channel; count: number | null }; result: null };
  /** Strokes of a layer or its mask that can be changed, the oldest first. */
  strokes: { params: { layer: number; channel: Channel }; result: StrokeSummary[] };
  inkFigures: { params: { layer: number }; result: InkFigures };
  ownLines: { params: { layer: number }; result: readonly InkLine[] };
  /** `step`: only that one, if it is the last. */
  undo: { params: Numbered & { step: number | null }; result: boolean };
  redo: { params: Numbered; result: boolean };
  /** Undoes or redoes until so many steps from the project's beginning on are done. */
  goTo: { params: Numbered & { done: number }; result: null };
  cueTiles: { params: CueTiles; result: null };
  cue: { params: { spec: CueSpec; on: string; values: Uint16Array }; result: null };
  /** Long work on the model begins. */
  beginChange: { params: null; result: { from: number; document: ProjectDocument } };
  /** Every painted plane, to be carried to another model. */
  paintPlanes: { params: null; result: { paintedAt: number; planes: ChannelPaint[] } };
  /** Changes the model, its layout or the sheets' sizes together with all paint, as one step. */
  changeModel: { params: Numbered & { change: ModelChange }; result: ModelChanged };
  view: { params: BuildUpView; result: null };
  /** Shows a layer with other settings for a while; null: as it is. */
  preview: { params: { layer: number; patch: NodePatch | null }; result: null };
  /** All of the albedo on a sheet, rows from the top. */
  sheet: { params: { sheet: number }; result: Uint8Array };
  /** The same with 16 bit a channel. */
  deepSheet: { params: { sheet: number }; result: Uint16Array };
  /** The detail sheet of a sheet, rows from the top: a channel a mask. */
  detailSheet: { params: { sheet: number }; result: Uint8Array };
  /** One sheet with all its layers, as OpenRaster can hold them. */
  layered: { params: { sheet: number }; result: OraImage };
  /** Begins or ends to tell the detail sheet's tiles. */
  lookAtDetail: { params: { isLookedAt: boolean }; result: null };
  /** The project as a file, from memory. */
  projectFile: { params: null; result: Uint8Array };
  /** Resolves when all is on disk, or can't be put there. */
  settle: { params: null; result: null };
  /** Answered at once by a worker that still works. */
  ping: { params: null; result: null };
};

export interface PaintState {
  readonly document: ProjectDocument;
  readonly history: HistoryView;
  readonly strokes: number;
  readonly missingCues: readonly CueSpec[];
  /** Keys of all cues that the build-up is made from: those that have come in part only are among them. */
  readonly usedCues: readonly string[];
}

export type PaintEvents = {
  state: PaintState;
  /** Another model is in hand from now on. */
  model: ModelState;
  /**
   * Freshly composited tiles: numbers over all sheets, which of their four sub-tiles are fresh (bit k for sub-tile k), and
   * 64 x 64 RGBA rows a tile, one after the other.
   */
  tiles: {
    readonly tiles: readonly number[];
    readonly subs: readonly number[];
    readonly pixels: Uint8Array;
    /** Tiles still to come after these. */
    readonly left: number;
  };
  /**
   * The picture with every `stride`th texel of every `stride`th row, to be shown until no tiles are still to come: numbers of tiles over
   * all sheets at that size, and 64 x 64 RGBA rows a tile.
   */
  coarse: { readonly stride: number; readonly tiles: readonly number[]; readonly pixels: Uint8Array };
  /** Freshly composited tiles of the detail sheet, as `tiles`. */
  detail: PaintEvents['tiles'];
  /** Tiles still to be composited. */
  pending: number;
  keep: KeepState;
  /** Another tab has changed the model or the sheets of a project that is looked at here: it is to be opened anew. */
  outdated: null;
  /** So much of the project couldn't be read. */
  lost: Lost;
};

/** What of a project can't be read any more. */
export interface Lost {
  readonly strokes: number;
  readonly tiles: number;
}

const numbered = { call: z.int().positive() };

/** What comes in by message is checked like everything else from outside. */
/** A tip's picture is small: the largest that the brush takes, packed, is below it. */
const MOST_TIP_BYTES = 1_000_000;

export const strokeBeginParams = z.object({
  ...numbered,
  layer: z.int().nonnegative(),
  channel: z.enum(CHANNELS),
  guard: guardWishSchema.nullable(),
  keepAlpha: z.boolean(),
  style: strokeStyleSchema,
  like: z.object({ texel: z.int().nonnegative(), tolerance: z.number().min(0).max(100) }).nullable(),
  tip: z
    .object({ name: z.string(), png: z.instanceof(Uint8Array).refine((b) => b.length <= MOST_TIP_BYTES) })
    .nullable(),
});
export const strokeExtendParams = z.object({
  ...numbered,
  samples: z
    .instanceof(Float64Array)
    .refine(
      (a) => a.length % SAMPLE_STRIDE === 0 && a.every(Number.isFinite),
      'whole, finite samples are expected',
    ),
  lift: z.boolean(),
});
export const viewParams = z.object({
  alone: z.int().nullable(),
  maskOf: z.int().nullable(),
  detail: z.enum(DETAILS).nullable(),
});
export const cueParams = z.object({ spec: cueSpec, on: z.string(), values: z.instanceof(Uint16Array) });
