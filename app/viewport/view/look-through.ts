import { matchedReference, useProject } from '../../project';
import { pictureInPane, poseThrough, WHOLE_PICTURE, type PictureZoom } from './picture-camera';
import type { StageView } from './stage-view';

/**
 * Looks through the chosen reference's camera, and goes on doing so when the pane's size changes.
 *
 * @param zoom how the picture was brought nearer, asked for each time
 * @returns whether its camera is known
 */
export function lookThroughReference(
  view: StageView | null,
  zoom: () => PictureZoom = () => WHOLE_PICTURE,
): boolean {
  const camera = matchedReference()?.match?.camera;
  if (!view || !camera) return false;
  view.camera.lookThrough(() => {
    const pane = view.pane('model') ?? { width: 100, height: 100 };
    const { mesh } = useProject.getState();
    return poseThrough(camera, pane, pictureInPane(pane, camera, zoom()), mesh ?? view.form);
  });
  return true;
}
