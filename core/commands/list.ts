import { addCamera } from './cameras/add-camera';
import { patchCamera } from './cameras/patch-camera';
import { removeCamera } from './cameras/remove-camera';
import { addGroup } from './layers/add-group';
import { addLayer } from './layers/add-layer';
import { duplicateLayers } from './layers/duplicate-layers';
import { flatten } from './layers/flatten';
import { groupLayers } from './layers/group-layers';
import { layRecipe } from './layers/lay-recipe';
import { mergeDown } from './layers/merge-down';
import { mergeVisible } from './layers/merge-visible';
import { moveLayers } from './layers/move-layers';
import { patchLayer } from './layers/patch-layer';
import { removeLayers } from './layers/remove-layers';
import { ungroup } from './layers/ungroup';
import { addLight } from './light/add-light';
import { patchLight } from './light/patch-light';
import { removeLight } from './light/remove-light';
import { renameLight } from './light/rename-light';
import { addLook } from './looks/add-look';
import { removeLook } from './looks/remove-look';
import { renameLook } from './looks/rename-look';
import { clear } from './paint/clear';
import { editInk } from './paint/edit-ink';
import { editStrokes } from './paint/edit-strokes';
import { fillAlong } from './paint/fill-along';
import { fill } from './paint/fill';
import { flood } from './paint/flood';
import { putPicture } from './paint/put-picture';
import { stroke } from './paint/stroke';
import { addSwatches } from './palette/add-swatches';
import { moveSwatch } from './palette/move-swatch';
import { orderSwatches } from './palette/order-swatches';
import { patchSwatch } from './palette/patch-swatch';
import { removeSwatches } from './palette/remove-swatches';
import { addPattern } from './patterns/add-pattern';
import { removePattern } from './patterns/remove-pattern';
import { renamePattern } from './patterns/rename-pattern';
import { patchDense } from './project/patch-dense';
import { renameProject } from './project/rename-project';
import { renameSheet } from './project/rename-sheet';
import { setDense } from './project/set-dense';
import { setLayout } from './project/set-layout';
import { setTwins } from './project/set-twins';
import { patchSeat } from './ramps/patch-seat';
import { removeRamps } from './ramps/remove-ramps';
import { removeSeats } from './ramps/remove-seats';
import { seatFaces } from './ramps/seat-faces';
import { seat } from './ramps/seat';
import { setRamps } from './ramps/set-ramps';
import { addReference } from './references/add-reference';
import { patchReference } from './references/patch-reference';
import { removeReference } from './references/remove-reference';
import { addRegion } from './regions/add-region';
import { colorFaces } from './regions/color-faces';
import { patchRegion } from './regions/patch-region';
import { removeRegion } from './regions/remove-region';

/** Everything that can be done to a project. A new command is a file beside these and a line here. */
export const COMMANDS = [
  renameProject,
  setTwins,
  renameSheet,
  setLayout,
  setDense,
  patchDense,
  addLayer,
  addGroup,
  groupLayers,
  ungroup,
  removeLayers,
  duplicateLayers,
  patchLayer,
  moveLayers,
  mergeDown,
  mergeVisible,
  flatten,
  layRecipe,
  addLight,
  renameLight,
  patchLight,
  removeLight,
  addSwatches,
  patchSwatch,
  removeSwatches,
  moveSwatch,
  orderSwatches,
  addReference,
  patchReference,
  removeReference,
  addLook,
  renameLook,
  removeLook,
  addPattern,
  renamePattern,
  removePattern,
  addCamera,
  patchCamera,
  removeCamera,
  addRegion,
  patchRegion,
  colorFaces,
  removeRegion,
  setRamps,
  removeRamps,
  seat,
  seatFaces,
  patchSeat,
  removeSeats,
  stroke,
  editStrokes,
  editInk,
  fill,
  flood,
  fillAlong,
  clear,
  putPicture,
] as const;
