import { Matrix4, Vector3 } from 'three';
import { sheetOfFace, type UvMesh } from '../../../core/mesh';
import type { CameraRig } from './camera-rig';
import type { StageView } from './stage-view';

/** Takes places of the model to pixels of its pane: three rows of four, x and y times the depth, and the depth. */
export function paneMatrix(rig: CameraRig): number[] {
  const camera = rig.camera();
  const m = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).elements;
  const row = (r: number): number[] => [m[r]!, m[4 + r]!, m[8 + r]!, m[12 + r]!];
  const [x, y, w] = [row(0), row(1), row(3)] as const;
  const { width, height } = rig.paneSize;
  return [
    ...x.map((v, i) => ((v + w[i]!) / 2) * width),
    ...y.map((v, i) => ((w[i]! - v) / 2) * height),
    ...w,
  ];
}

/** A place that is hidden by less than this part of the model is seen: it lies in the surface that hides it. */
const SEEN = 1e-4;

/** Places of a triangle that are looked at, by the weights of its corners: something thin before it hides but some. */
const LOOKED_AT = [
  [1 / 3, 1 / 3, 1 / 3],
  [0.8, 0.1, 0.1],
  [0.1, 0.8, 0.1],
  [0.1, 0.1, 0.8],
] as const;

/** Whether some of a triangle is seen in the model's pane. */
export function seesFace(view: StageView, mesh: UvMesh, face: number): boolean {
  const place = new Vector3();
  return LOOKED_AT.some((weights) => {
    place.set(0, 0, 0);
    weights.forEach((w, k) => {
      const v = mesh.indices[face * 3 + k]! * 3;
      place.addScaledVector(
        new Vector3(mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!),
        w,
      );
    });
    const { x, y } = view.rig.project(place);
    const hit = view.pick({ pane: 'model', x, y });
    return hit !== null && (hit.face === face || hit.point.distanceTo(place) < SEEN * view.rig.extent);
  });
}

/** Whether a triangle lies on the sheet in the flat view. */
export const isOnShownSheet = (view: StageView, mesh: UvMesh, face: number): boolean =>
  sheetOfFace(mesh, face) === view.sheet;
