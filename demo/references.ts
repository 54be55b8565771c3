import type { Oklab } from '../core/color';
import type { Picture } from '../core/formats';
import type { UvMesh } from '../core/mesh';
import { draw, type Camera } from './drawing';
import { otterDetail } from './otter-details';
import { PALETTE, tonesOf } from './palette';

/** Facts that the Match stage can be checked against. */
export const OTTER_CAMERA: Camera = { position: [0.55, 1.2, 6.2], target: [0.06, 1.0, 0], fov: 21 };
export const REFERENCE_LIGHT = [-0.5, 0.75, 0.6] as const;
export const LANTERN_CAMERA: Camera = { position: [0.9, 0.75, 3.6], target: [0.12, 0.5, 0], fov: 21 };
export const STALL_CAMERA: Camera = { position: [0.7, 2.0, 9.4], target: [0, 1.58, 0.4], fov: 23 };
export const STALL_LIGHT = [-0.45, 0.6, 0.75] as const;

const sky =
  (low: Oklab, high: Oklab) =>
  (_u: number, v: number): Oklab => ({
    L: low.L + (high.L - low.L) * v,
    a: low.a + (high.a - low.a) * v,
    b: low.b + (high.b - low.b) * v,
  });

export function drawOtterReference(otter: UvMesh): Picture {
  return draw(
    {
      figures: [{ mesh: otter, offset: [0, 0, 0], tones: tonesOf, detail: otterDetail }],
      camera: OTTER_CAMERA,
      light: REFERENCE_LIGHT,
      ink: PALETTE.ink,
      backdrop: sky({ L: 0.83, a: 0.01, b: 0.05 }, { L: 0.77, a: -0.025, b: -0.01 }),
    },
    640,
    800,
  );
}

export interface StallModels {
  readonly otter: UvMesh;
  readonly lantern: UvMesh;
  readonly kettle: UvMesh;
  readonly crate: UvMesh;
  readonly stall: UvMesh;
}

/** What stands in the stall, and where. */
export const inTheStall = ({ otter, lantern, kettle, crate, stall }: StallModels) =>
  [
    { mesh: stall, offset: [0, 0, 0] },
    { mesh: otter, offset: [-0.05, 0.28, -0.1] },
    { mesh: kettle, offset: [0.98, 0.92, 0.68] },
    { mesh: crate, offset: [-1.05, 0.92, 0.66] },
    { mesh: lantern, offset: [1.15, 1.98, 0.95] },
    { mesh: lantern, offset: [-1.2, 1.98, 0.95] },
  ] as const;

export function drawStallReference(models: StallModels): Picture {
  return draw(
    {
      figures: inTheStall(models).map(({ mesh, offset }) => ({
        mesh,
        offset,
        tones: tonesOf,
        ...(mesh === models.otter && { detail: otterDetail }),
      })),
      camera: STALL_CAMERA,
      light: STALL_LIGHT,
      ink: PALETTE.ink,
      backdrop: sky({ L: 0.42, a: 0.015, b: -0.03 }, { L: 0.26, a: 0.0, b: -0.07 }),
    },
    900,
    700,
  );
}

/** The paper lantern by itself, in three flat tones with ink around them. */
export function drawLanternReference(lantern: UvMesh): Picture {
  return draw(
    {
      figures: [{ mesh: lantern, offset: [0, 0, 0], tones: tonesOf }],
      camera: LANTERN_CAMERA,
      light: REFERENCE_LIGHT,
      ink: PALETTE.ink,
      flat: true,
      backdrop: sky({ L: 0.36, a: 0.01, b: -0.04 }, { L: 0.24, a: 0.0, b: -0.07 }),
    },
    640,
    520,
  );
}
