import { Plane, Ray, Vector3 } from 'three';
import type { StageView } from '../view/stage-view';

/** Where a point of the pane lies in the plane that faces the eye at a place, model space. */
export function pointInPlane(view: StageView, place: Vector3, x: number, y: number): Vector3 {
  const plane = new Plane().setFromNormalAndCoplanarPoint(view.rig.axis(2), place);
  const { origin, direction } = view.rig.ray(x, y);
  return new Ray(origin, direction).intersectPlane(plane, new Vector3()) ?? place.clone();
}
