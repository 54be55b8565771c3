export { cueMeasurer, engineAtSize } from './at-size';
export type { AttachCommand } from './attach';
export { type BackOptions, type BroughtBack, type BroughtLayer, broughtBack } from './brought-back';
export type { CommandResult, Commit, Deed } from './commit';
export { Engine } from './engine';
export {
  type MadeModel,
  type MakeModel,
  type ModelHost,
  NEVER_STOPS,
  changeModel,
  hostHere,
} from './model/change-model';
export type { ModelChange, ModelChanged, ModelFileWish, ModelPatch } from './model/model-change';
export { type ModelState, modelKey } from './model/models';
export { type ScratchStroke, type ShownBrush, brushPicture, scratchPicture } from './pictures/brush-picture';
export { drawModel, meanOfSamples } from './pictures/draw-model';
export {
  type DeliveredAlpha,
  type FlattenSurface,
  compositeDetail,
  compositeSheet,
  compositeSheetDeep,
  finishAlbedo,
  flattenAlbedo,
  flattenSurface,
} from './pictures/flatten';
export { layeredPicture } from './pictures/layered-picture';
export { projectionLayer, projectionStroke } from './pictures/project-picture';
export { recipePictures } from './pictures/recipe-picture';
export { readMotion } from './read-motion';
export type { Needed } from './steps';
export type { StrokeSummary } from './strokes/film';
export type { ReachMap } from './strokes/reach-map';
