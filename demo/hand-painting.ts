import { buildRayScene } from '../core/cues';
import type { Command } from '../core/commands';
import { ClosestPoint, type SurfacePoint, type UvMesh } from '../core/mesh';
import { Poser, type FilePose, type Motion } from '../core/motion';
import {
  NO_DRIVES,
  PLAIN_BRUSH,
  SAMPLE_STRIDE,
  STRAIGHT,
  type BrushShape,
  type StyleOf,
} from '../core/paint';
import { along, drawOnFront } from './aim';
import { CHEEKS, EYE_LIGHTS, FRECKLES, MOUTH } from './otter-details';
import { PALETTE } from './palette';

const BALL: BrushShape = { ...PLAIN_BRUSH, lies: 'against' };

const SOFT: StyleOf<'brush'> = {
  tool: 'brush',
  erase: false,
  color: PALETTE.scarfLight,
  opacity: 0.5,
  brush: { ...BALL, edge: 1, spacing: 0.12, pressure: { ...NO_DRIVES, opacity: STRAIGHT } },
  seed: 1,
  up: [0, 1, 0],
  eye: [0, 0, 1],
  nearSide: true,
};
const LINE: StyleOf<'brush'> = {
  ...SOFT,
  opacity: 1,
  brush: { ...BALL, edge: 0.3, spacing: 0.1, pressure: { ...NO_DRIVES, size: STRAIGHT } },
};

type Path = readonly (readonly [number, number])[];

/** Thin at both ends, as a brush lifts. */
const taper = (t: number): number => 0.45 + 0.55 * Math.sin(Math.PI * Math.min(1, Math.max(0, t)));

/**
 * The strokes that were made by hand on the otter: glazes on one layer, lines and lights on another.
 *
 * @param glazes id of the layer for the glazes
 * @param lines id of the layer for the lines
 */
export function handPainting(mesh: UvMesh, glazes: number, lines: number): Command[] {
  const scene = buildRayScene(mesh.positions, mesh.indices);
  const stroke = (
    layer: number,
    part: string,
    style: StyleOf<'brush'>,
    path: Path,
    radius: number,
    pressure?: (t: number) => number,
  ): Command => ({
    do: 'stroke',
    layer,
    guard: { part },
    stroke: { ...style, runs: [drawOnFront(mesh, scene, along(path, radius * 0.3), radius, pressure)] },
  });
  const glaze = (part: string, color: string, opacity: number, path: Path, radius: number): Command =>
    stroke(glazes, part, { ...SOFT, color, opacity }, path, radius);
  const line = (part: string, color: string, path: Path, radius: number): Command =>
    stroke(lines, part, { ...LINE, color }, path, radius, taper);

  return [
    ...CHEEKS.map(([x, y]) =>
      glaze(
        'Muzzle',
        '#f2785c',
        0.6,
        [
          [x - 0.03, y],
          [x + 0.03, y],
        ],
        0.13,
      ),
    ),
    ...CHEEKS.map(([x]) =>
      glaze(
        'Head',
        '#e2794f',
        0.45,
        [
          [x * 1.35, 1.3],
          [x * 1.42, 1.36],
        ],
        0.15,
      ),
    ),
    glaze(
      'Head',
      '#eeb070',
      0.5,
      [
        [-0.3, 1.66],
        [-0.18, 1.7],
        [-0.05, 1.66],
      ],
      0.16,
    ),
    glaze(
      'Muzzle',
      '#fff1cf',
      0.6,
      [
        [-0.12, 1.34],
        [0.12, 1.34],
      ],
      0.1,
    ),
    glaze(
      'Apron',
      '#7fc2ae',
      0.5,
      [
        [-0.22, 0.86],
        [-0.26, 0.6],
        [-0.3, 0.36],
      ],
      0.14,
    ),
    glaze(
      'Apron',
      '#1f3558',
      0.5,
      [
        [0.32, 0.62],
        [0.34, 0.34],
      ],
      0.16,
    ),
    glaze(
      'Scarf',
      '#ffb066',
      0.55,
      [
        [-0.18, 1.06],
        [-0.05, 1.03],
      ],
      0.07,
    ),
    glaze(
      'Nose',
      '#a3747d',
      0.7,
      [
        [-0.055, 1.43],
        [-0.015, 1.435],
      ],
      0.035,
    ),
    line('Muzzle', '#5a3038', MOUTH, 0.016),
    line(
      'Muzzle',
      '#5a3038',
      [
        [0, 1.265],
        [0, 1.325],
      ],
      0.013,
    ),
    ...EYE_LIGHTS.map(([x, y]) => stroke(lines, 'Eyes', { ...LINE, color: '#fffaf0' }, [[x, y]], 0.027)),
    ...EYE_LIGHTS.map(([x]) =>
      stroke(
        lines,
        'Eyes',
        { ...SOFT, color: '#7a5a6c', opacity: 0.8 },
        [
          [x + 0.03, 1.45],
          [x + 0.055, 1.452],
        ],
        0.03,
      ),
    ),
    ...FRECKLES.flatMap(([x, y]) =>
      [x, -x].map((side) =>
        stroke(lines, 'Muzzle', { ...LINE, color: '#6b4447', opacity: 0.85 }, [[side, y]], 0.013),
      ),
    ),
    line(
      'Apron',
      '#e6c98f',
      [
        [-0.36, 0.25],
        [-0.18, 0.242],
        [0, 0.24],
        [0.18, 0.242],
        [0.36, 0.25],
      ],
      0.02,
    ),
    line(
      'Pocket',
      '#9a7a5a',
      [
        [-0.13, 0.455],
        [0, 0.45],
        [0.13, 0.455],
      ],
      0.011,
    ),
    ...[-0.215, 0.215].map((x) =>
      line(
        'Head',
        '#5b3428',
        [
          [x - 0.07, 1.63],
          [x, 1.655],
          [x + 0.07, 1.635],
        ],
        0.018,
      ),
    ),
  ];
}

/** Where the arm with the spoon is raised while the pot is stirred. */
const RAISED = { clip: 'Stirring', time: 0.5, morphs: [] } as const;

/**
 * A soft shadow on the side that the arm with the spoon hides at rest, painted while it is raised.
 *
 * @param file id of the model's file
 * @param layer id of the layer for the glazes
 */
export function underTheArm(mesh: UvMesh, motion: Motion, file: number, layer: number): Command {
  const pose: FilePose = { ...RAISED, morphs: [], file };
  const form = new Poser(mesh, motion, null).pose(pose);
  const normals = form.turn(mesh.normals);
  const body = mesh.parts.indexOf('Body');
  const faces = Uint32Array.from(mesh.faceParts.keys()).filter((f) => mesh.faceParts[f] === body);
  const closest = new ClosestPoint(form.positions, mesh.indices, faces);
  const on: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const mixed = (data: Float32Array): number[] =>
    [0, 1, 2].map((k) =>
      [on.w0, on.w1, on.w2].reduce((sum, w, c) => sum + data[mesh.indices[on.face * 3 + c]! * 3 + k]! * w, 0),
    );
  const samples = Array.from({ length: 12 }, (_, i) => {
    const t = i / 11;
    closest.find(-0.7, 0.92 - 0.34 * t, 0.06 + 0.08 * t, on);
    const sample = new Array<number>(SAMPLE_STRIDE).fill(0);
    return Object.assign(sample, [...mixed(form.positions), ...mixed(normals), 0.11, 1]);
  }).flat();
  const style: StyleOf<'brush'> = { ...SOFT, color: PALETTE.furShadow, opacity: 0.55, eye: [-1, 0, 0], pose };
  return { do: 'stroke', layer, guard: { part: 'Body' }, stroke: { ...style, runs: [samples] } };
}
