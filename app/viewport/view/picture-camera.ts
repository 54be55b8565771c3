import { Matrix4, Quaternion, Vector3 } from 'three';
import type { CameraPose } from '../../../core/document';
import { axesOf, focalOf, type MatchCamera } from '../../../core/match';
import { dot, sub, type Vec3 } from '../../../core/math';
import { centreOf, subjectBounds, type UvMesh } from '../../../core/mesh';
import type { CameraRig } from './camera-rig';

/** Half the height of the sensor that focal lengths are told for, mm. */
const HALF_SENSOR = 12;

/** A field of view of less than this has no perspective to speak of, degrees. */
const FLAT_BELOW = 0.8;

/** Where a picture lies in a pane: its upper left corner, and CSS pixels a pixel of it. */
export interface PicturePlace {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

/** How a picture was brought nearer by hand: so many times, and moved by parts of its own width and height. */
export interface PictureZoom {
  readonly times: number;
  readonly x: number;
  readonly y: number;
}

export const WHOLE_PICTURE: PictureZoom = { times: 1, x: 0, y: 0 };

/** Air for the chips above and below, and at the sides, CSS pixels. */
const AIR = { above: 44, below: 44, aside: 12 } as const;

interface Size {
  readonly width: number;
  readonly height: number;
}

/** A picture as large as a pane lets it be, or nearer. */
export function pictureInPane(pane: Size, picture: Size, { times, x, y }: PictureZoom): PicturePlace {
  const viewport = {
    width: Math.max(40, pane.width - 2 * AIR.aside),
    height: Math.max(40, pane.height - AIR.above - AIR.below),
  };
  const scale = Math.min(viewport.width / picture.width, viewport.height / picture.height) * times;
  return {
    x: AIR.aside + (viewport.width - picture.width * scale) / 2 + x * picture.width * scale,
    y: AIR.above + (viewport.height - picture.height * scale) / 2 + y * picture.height * scale,
    scale,
  };
}

/** The pose from which a pane shows the model just where a picture that lies so in it has it. */
export function poseThrough(camera: MatchCamera, pane: Size, place: PicturePlace, mesh: UvMesh): CameraPose {
  const { right, up, back } = axesOf(camera);
  const centre = centreOf(subjectBounds(mesh)) as Vec3;
  const depth = Math.max(1e-6, -dot(sub(centre, camera.position), back));
  const tall = camera.height * place.scale;
  const offX = place.x + (camera.width * place.scale) / 2 - pane.width / 2;
  const offY = place.y + tall / 2 - pane.height / 2;
  const turn = new Quaternion().setFromRotationMatrix(
    new Matrix4().makeBasis(new Vector3(...right), new Vector3(...up), new Vector3(...back)),
  );
  return {
    target: [0, 1, 2].map((k) => camera.position[k]! - back[k]! * depth) as [number, number, number],
    turn: turn.toArray(),
    distance: depth,
    flat: camera.fovY < FLAT_BELOW,
    focal: HALF_SENSOR / ((pane.height / 2 / focalOf(camera)) * (1 / place.scale)),
    shift: [(camera.shift[0] * tall + offX) / pane.height, (camera.shift[1] * tall - offY) / pane.height],
  };
}

/** The camera of a picture that lies so in a pane, if it was taken as the pane shows the model now. */
export function cameraThrough(rig: CameraRig, place: PicturePlace, picture: Size): MatchCamera {
  const { height } = rig.paneSize;
  const width = rig.paneSize.width;
  const { target, distance, flat, focal, shift } = rig.pose();
  const [up, back] = [rig.axis(1).toArray(), rig.axis(2).toArray()];
  const half = HALF_SENSOR / focal;
  const tall = picture.height * place.scale;
  // Without perspective the eye is taken far off, where none is left.
  const unit = (2 * half * distance) / height;
  const flatTangent = Math.tan((0.25 * Math.PI) / 180);
  const tangent = flat ? flatTangent : (half * tall) / height;
  const away = flat ? (unit * tall) / 2 / flatTangent : distance;
  const offX = place.x + (picture.width * place.scale) / 2 - width / 2;
  const offY = place.y + tall / 2 - height / 2;
  return {
    position: [0, 1, 2].map((k) => target[k]! + back[k]! * away) as [number, number, number],
    target,
    up,
    fovY: (2 * Math.atan(tangent) * 180) / Math.PI,
    shift: [(shift[0] * height - offX) / tall, (shift[1] * height + offY) / tall],
    width: picture.width,
    height: picture.height,
  };
}
