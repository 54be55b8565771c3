import type { Placing } from '../core/math';
import type { PaletteColor } from '../core/color';
import type { CueSpec, GroundColors, Met, OcclusionSpec, PoseMap } from '../core/cues';
import type { Carried, CarryInput } from '../core/model';
import type { ProjectData } from '../core/project-file';
import type { Recipe } from '../core/document';
import type { ScratchStroke, ShownBrush } from '../core/engine';
import type { Companions, ImportedModel, ImportedPaint, LayoutStyle, NamedColor } from '../core/formats';
import type { LightPlan } from '../core/light';
import type { Mesh, UvMesh } from '../core/mesh';
import type { Pose } from '../core/motion';
import type { NewRamp, PartFit, ProjectRamp } from '../core/ramps';
import type { SurfaceMap } from '../core/surface';
import type {
  Finding,
  Heat,
  HeatKind,
  IslandMeasures,
  LayoutEdit,
  LayoutMeasures,
  CutPlan,
  ComponentAnswer,
  ComponentJob,
  SlidSeam,
  SuggestedSeams,
  WishedFaces,
  UnwrapOptions,
} from '../core/unwrap';

export type UnwrapHow = Omit<UnwrapOptions, 'onProgress'>;

export interface CueJob {
  readonly surface: SurfaceMap;
  readonly spec: CueSpec;
  /** Names the surface and what it is measured on: a worker that has that at hand makes nothing anew. */
  readonly ground: string;
  /** A denser model of the same shape that is measured in its stead, packed, and how far it may lie off, model units. */
  readonly dense: {
    readonly file: Uint8Array;
    readonly distance: number;
    readonly placing: Placing | null;
  } | null;
  /** Local colours of the surface's model, where they count. */
  readonly colors: GroundColors | null;
  /** The file that the surface's model was read from, and what took it there: it is posed by that. */
  readonly moves: { readonly file: Uint8Array; readonly placing: Placing | null } | null;
}

export interface CastJob extends CueJob {
  /** The tiles that this job casts rays for. */
  readonly tiles: readonly number[];
  /** A first look with few rays, or the fine values. */
  readonly coarse: boolean;
}

/** Long work, one job a call. `progress` events tell the part done. */
export type JobMethods = {
  readModel: { params: { name: string; bytes: Uint8Array; companions: Companions }; result: ImportedModel };
  /** The colours that a model came with, as the pixels of a paint layer. */
  basePaint: {
    params: {
      mesh: UvMesh;
      sizes: readonly number[];
      paint: ImportedPaint;
      pictureUvs: Float32Array | null;
    };
    /** The base colour, and colours of vertices that are multiplied onto it. */
    result: Readonly<Record<'base' | 'vertices', { tile: number; bytes: Uint8Array }[]>>;
  };
  measure: {
    params: { mesh: UvMesh; modelHash: string; sizes: readonly number[]; shared: boolean };
    result: SurfaceMap;
  };
  /** Casts rays tile by tile; `cueTiles` events bring the values. */
  castTiles: { params: CastJob; result: null };
  /** Changes a layout, or makes one. */
  editLayout: { params: { mesh: UvMesh; edit: LayoutEdit }; result: UvMesh };
  /** Lays out a model that has no UVs yet. */
  unwrap: { params: { mesh: Mesh; how: UnwrapHow }; result: UvMesh };
  /** Part of a layout: one shell. Asked by the worker that makes it. */
  workOnComponent: { params: { job: ComponentJob }; result: ComponentAnswer };
  /** What the layout of one sheet is like, as a whole and island by island. */
  measureLayout: {
    params: { mesh: UvMesh; sheet: number; size: number };
    result: { whole: LayoutMeasures; islands: IslandMeasures[] };
  };
  /** How a layout is distorted, vertex by vertex. */
  layoutHeat: { params: { mesh: UvMesh; kind: HeatKind; sizes: readonly number[] }; result: Heat };
  /** The name of a mesh: equal names, equal contents. */
  meshHash: { params: { mesh: UvMesh }; result: string };
  /** Gets ready to find ways along the edges of a mesh. */
  openPathfinder: { params: { name: string; mesh: UvMesh }; result: null };
  /** The cheapest way between two welded vertices; null if the worker knows no mesh of that name. */
  findRoad: {
    params: { name: string; from: number; to: number; seams: readonly number[] };
    result: number[] | null;
  };
  /** A seam dragged from one welded vertex to another; null if it can't be, `unknown` if the worker knows no mesh of that name. */
  slideSeam: {
    params: {
      name: string;
      at: number;
      to: number;
      seams: readonly number[];
      points: readonly number[];
    };
    result: SlidSeam | 'unknown' | null;
  };
  /** All the ways to cut what lies on a sheet. */
  planLayout: {
    params: {
      mesh: UvMesh;
      sheet: number | null;
    } & Pick<UnwrapOptions, 'stack' | 'weights'> & {
        kept: readonly number[];
        wishes: WishedFaces;
      };
    result: CutPlan;
  };
  /** What is wrong with a model and its layout. */
  health: { params: { mesh: UvMesh; sizes: readonly number[] }; result: Finding[] };
  /** Where seams would lie by themselves, and what would come of it. */
  suggestSeams: { params: { mesh: UvMesh; faces: readonly number[] }; result: SuggestedSeams };
  /** Carries paint to another layout, size or model. */
  carryPaint: { params: Omit<CarryInput, 'kernels' | 'onProgress'>; result: Carried };
  /** A cue that follows from where texels lie, at once. */
  placedCue: { params: CueJob; result: Uint16Array };
  /** Reads a model as one that cues are measured on, packed. */
  denseModel: {
    params: { name: string; bytes: Uint8Array; companions: Companions };
    result: { packed: Uint8Array; triangles: number };
  };
  /** How a denser model is met. */
  meetDense: { params: Omit<CueJob, 'spec'>; result: Met };
  /** How a pose lies to what was painted at rest, or over other poses; see `occlusionAgainst` and `stretchIn`. */
  poseMap: {
    params: Omit<CueJob, 'spec'> & { map: PoseMap; pose: Pose; painted: OcclusionSpec };
    result: Uint8Array;
  };
  /** Evens out cast values, and fills what met nothing. */
  finishCast: { params: CueJob & { readonly values: Uint16Array }; result: Uint16Array };
  /** A picture file as a pattern is kept: a PNG, no larger than one may be. */
  patternPng: { params: { file: Uint8Array }; result: { png: Uint8Array; width: number; height: number } };
  /** The main colours of a picture and their shares. */
  paletteOf: { params: { rgba: Uint8Array; count: number }; result: PaletteColor[] };
  /** What a stroke of a brush looks like, as a PNG on a transparent ground. */
  brushPicture: { params: ShownBrush; result: Uint8Array };
  /** Strokes that were drawn to try brushes, as a PNG. */
  scratchPicture: { params: { strokes: readonly ScratchStroke[] }; result: Uint8Array };
  /** A picture as it is kept for a brush's tip. */
  tipPng: { params: { file: Uint8Array }; result: Uint8Array };
  /** What a recipe looks like on a model, as a PNG on a transparent ground. */
  recipePicture: { params: { mesh: UvMesh; recipe: Recipe; size: number }; result: Uint8Array };
  loadMap: { params: { key: string }; result: unknown };
  /** Keeps what a file holds that was measured elsewhere. */
  keepMeasured: { params: { bytes: Uint8Array }; result: null };
  keepMap: { params: { key: string; data: unknown; bytes: number }; result: null };
  /** A model's normals as a light plan sees them. `regions`: the triangles of those that the plan names. */
  plannedNormals: {
    params: { mesh: UvMesh; plan: LightPlan; regions: readonly (readonly [number, readonly number[]])[] };
    result: Float32Array;
  };
  /** Ramps out of what is painted on the parts. `rows`: the albedo of each sheet. */
  rampsFromPaint: {
    params: { surface: SurfaceMap; rows: readonly Uint8Array[]; most: number };
    result: NewRamp[];
  };
  /** For every part the ramp on which it comes nearest to the albedo. `rows`: of each sheet. */
  fitToRamps: {
    params: { surface: SurfaceMap; rows: readonly Uint8Array[]; ramps: readonly ProjectRamp[] };
    result: PartFit[];
  };
  /** A layout as a picture. */
  layoutPng: { params: { mesh: UvMesh; style: LayoutStyle }; result: Uint8Array };
  palettePng: { params: { colors: readonly NamedColor[] }; result: Uint8Array };
  /** As far as it can be read; `missing` tells what can't, in sentences. */
  readProject: { params: { bytes: Uint8Array }; result: { data: ProjectData; missing: string[] } };
};

export type JobEvents = {
  progress: number;
  cueTiles: { tiles: readonly number[]; values: Uint16Array };
};
