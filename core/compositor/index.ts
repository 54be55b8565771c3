export { type BuildUpView, WHOLE_BUILD_UP } from './build-up-view';
export { CoarsePicture } from './coarse-picture';
export {
  CHANNEL_NAMES,
  type DetailChannels,
  USUAL_CHANNELS,
  detailChannels,
  detailReport,
  inChannels,
} from './detail-channels';
export { DetailPicture } from './detail-picture';
export { putChannel } from './detail-values';
export { LayerTiles, type MaskTile } from './layer-tiles';
export { Picture } from './picture';
