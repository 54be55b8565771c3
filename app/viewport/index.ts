export { Viewport } from './Viewport';
export { SEEN_ENTRIES, viewCommands } from './commands';
export { PoseStrip } from './pose/PoseStrip';
export { alsoChoosePart, choosePart, chosenParts, partTool } from './input/part-tool';
export { useDragOntoModel } from './input/drag-onto';
export { Handle } from './input/Handle';
export { LineOver, type Point } from './input/LineOver';
export { lineOnModel } from './input/line-on-model';
export { pointInPlane } from './input/plane-point';
export { DrawnLine, type Drawn } from './input/DrawnLine';
export { lineGesture, type LineShape } from './input/line-gesture';
export { enclosedByCopies, enclosedOnModel, enclosedOnSheet, type EnclosedFaces } from './view/enclosed';
export { dragOverModel } from './input/over-model';
export { LOOK_TOOL, type Gesture, type PointerAt, type ToolMaker } from './input/tool';
export { paneMatrix, seesFace } from './view/pane-projection';
export type { Hit } from './view/picker';
export {
  ViewportContext,
  ViewportReactContext,
  useEveryPicture,
  useViewport,
  useView,
} from './view/viewport-context';
export { showSheetOf } from './view/show-sheet';
export type { PanePoint, StageView } from './view/stage-view';
export {
  cameraThrough,
  pictureInPane,
  WHOLE_PICTURE,
  type PicturePlace,
  type PictureZoom,
} from './view/picture-camera';
export { lookThroughReference } from './view/look-through';
