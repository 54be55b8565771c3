import { z } from 'zod';
import { CoreError } from '../errors';
import type { Mesh, UvMesh } from '../mesh';
import type { ProjectRamps, RampAssignment } from './project-ramps';
import { isInsideRamp, rampBands, type RampSheet, type RampSize } from './ramp-sheet';
import { RampAssignments } from './assignments';
import { withCornerUvs } from '../unwrap';

const vector = z.tuple([z.number(), z.number(), z.number()]);

/** How a part lies on a ramp. */
export const rampRunSchema = z.strictObject({
  ramp: z.string(),
  /** Along which it runs, model space. */
  direction: vector.refine(
    (d) => d.some((x) => x !== 0) && d.every(Number.isFinite),
    'a direction is not 0 in all three numbers',
  ),
  /** Where along the ramp the part's lowest and highest place along the direction lie, 0..1. */
  from: z.number().min(0).max(1),
  to: z.number().min(0).max(1),
});

export type RampMapping = z.infer<typeof rampRunSchema>;

/** A part on its ramp. */
export interface OnRamp {
  readonly name: string;
  readonly ramp: string;
  /** Whether all that is read for it lies on its own ramp. */
  readonly inside: boolean;
}

/**
 * A model whose UVs lie on a ramp sheet: each part's along its ramp, as high as its places lie along the direction. They overlap freely.
 *
 * @param runs by the name of the part; each part has one
 * @throws CoreError `bad-argument` with a sentence that names the part or the ramp
 */
export function putOnRamps(
  mesh: Mesh,
  sheet: RampSheet,
  size: RampSize,
  runs: ReadonlyMap<string, RampMapping>,
): { readonly mesh: UvMesh; readonly parts: readonly OnRamp[] } {
  const bands = rampBands(sheet.ramps.length, size);
  const unknown = [...runs.keys()].find((name) => !mesh.parts.includes(name));
  if (unknown !== undefined) {
    throw new CoreError(
      'bad-argument',
      `There is no part called “${unknown}” in the model. It has: ${mesh.parts.join(', ')}.`,
    );
  }
  const seats = mesh.parts.map((name, part) => seatOf(name, part, sheet, runs));
  const ramps: ProjectRamps = {
    size,
    lie: sheet.lie,
    shared: null,
    ramps: sheet.ramps.map((ramp, id) => ({ ...ramp, id })),
    seats,
  };
  const reckoned = new RampAssignments(mesh);
  const { uvs } = reckoned.reckon(ramps, () => []);
  const parts = seats.map((seat, part) => {
    const name = mesh.parts[part]!;
    const { faces, at } = reckoned.valuesOf(seat, () => []);
    if (at.length > 0 && at.every((x) => x === 0)) {
      throw new CoreError(
        'bad-argument',
        `The part “${name}” has no extent along ${runs.get(name)!.direction.join(', ')}: it would lie on one place of its ramp. Choose another direction for it.`,
      );
    }
    const inside = [...faces].every((f) =>
      [0, 2, 4].every((c) =>
        isInsideRamp(bands[seat.ramp]!, [uvs[f * 6 + c]!, uvs[f * 6 + c + 1]!], size, sheet.lie),
      ),
    );
    return { name, ramp: sheet.ramps[seat.ramp]!.name, inside };
  });
  // All parts share the one sheet.
  const { partSheets: _, ...onOneSheet } = mesh;
  return { mesh: withCornerUvs(onOneSheet, uvs), parts };
}

/** @throws CoreError `bad-argument` */
function seatOf(
  name: string,
  id: number,
  sheet: RampSheet,
  runs: ReadonlyMap<string, RampMapping>,
): RampAssignment {
  const run = runs.get(name);
  const names = sheet.ramps.map((r) => r.name);
  if (!run) {
    throw new CoreError(
      'bad-argument',
      `The part “${name}” is on no ramp yet. Put it on one of: ${names.join(', ')}.`,
    );
  }
  const ramp = names.indexOf(run.ramp);
  if (ramp < 0) {
    throw new CoreError(
      'bad-argument',
      `The part “${name}” is to be on the ramp “${run.ramp}”, which isn't there. There are: ${names.join(', ')}.`,
    );
  }
  const { direction, from, to } = run;
  return { id, of: { part: name }, ramp, run: { kind: 'straight', direction }, from, to, rings: [] };
}
