import type { Command, NewLayer } from '../../commands';
import type { MaskStep } from '../../layers';
import { axesOf, cameraRows, pictureRows, type MatchCamera } from '../../match';
import {
  normalize,
  sub,
  type Vec3,
  compose,
  IDENTITY,
  inverse,
  placeDirection,
  type Placing,
} from '../../math';
import { centreOf, subjectBounds, type FaceRuns, type UvMesh } from '../../mesh';
import { PLAIN_BRUSH, SEEN_SIDE } from '../../paint';

/** What turns away from the camera more than this is left out, and all of what turns toward it more than that is in: (1 + cos) / 2, as the cue Facing has it. */
const FACING = { low: 0.58, high: 0.72, gamma: 1 } as const;

/** Of the model's depth along the view, the farthest part that fades. */
const DEEP = { low: 0, high: 0.2, gamma: 1 } as const;

/** A layer for what a picture shows of the model: under a mask that fades with facing and depth, and can be painted on. */
export function projectionLayer(mesh: UvMesh, camera: MatchCamera, name: string): NewLayer {
  const direction = [...normalize(sub(camera.position, centreOf(subjectBounds(mesh)) as Vec3))] as [
    number,
    number,
    number,
  ];
  const step = { from: 'cue', join: 'multiply', invert: false } as const;
  const mask: MaskStep[] = [
    { ...step, levels: FACING, cue: { cue: 'facing', direction } },
    { ...step, levels: DEEP, cue: { cue: 'height', direction, from: 0, to: 1 } },
  ];
  return { kind: 'paint', name: name.slice(0, 80), mask };
}

/**
 * Lays a picture on what its camera sees of the model.
 *
 * @param picture the project's pattern that holds a copy of it
 * @param mirrored the camera is one of the picture seen in a mirror
 * @param hidden triangles that it goes through: those of backdrops
 * @param copy where it is laid instead, as if that place had been looked at: on the model's other side
 */
export function projectionStroke(
  layer: number,
  picture: { readonly id: number; readonly width: number; readonly height: number },
  camera: MatchCamera,
  mirrored: boolean,
  hidden: FaceRuns = [],
  copy: Placing = IDENTITY,
): Command {
  const back = inverse(copy);
  const seen = cameraRows(camera).map((v, i) =>
    i < 4 ? (v * SEEN_SIDE) / camera.width : i < 8 ? (v * SEEN_SIDE) / camera.height : v,
  );
  const eye: [number, number, number] = [...placeDirection(axesOf(camera).back, copy)];
  return {
    do: 'stroke',
    layer,
    channel: 'pixels',
    guard: null,
    keepAlpha: false,
    stroke: {
      tool: 'through',
      picture: picture.id,
      view: compose(pictureRows(camera, mirrored, picture), back),
      whole: true,
      seen: { view: compose(seen, back), eye, hidden },
      opacity: 1,
      brush: PLAIN_BRUSH,
      seed: 0,
      up: [0, 1, 0],
      eye,
      nearSide: true,
      runs: [],
    },
  };
}
