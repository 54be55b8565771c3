export { Viewport } from './Viewport';
export { viewCommands } from './commands';
export { alsoChoosePart, choosePart, chosenParts, partTool } from './input/part-tool';
export { LOOK_TOOL, type PointerAt, type ToolMaker } from './input/tool';
export type { Hit } from './view/picker';
export { Room, RoomContext, useEveryPicture, useRoom, useView } from './view/room';
export { ownerOf } from './view/shared-texels';
export { showSheetOf } from './view/show-sheet';
export type { PanePoint, StageView } from './view/stage-view';
