import { z } from 'zod';
import { hexColor } from '../color';
import type { Follower } from '../follow';
import { targetSchema } from '../layers';
import {
  LEAST_RAMPS,
  MOST_RAMP_COLORS,
  MOST_RAMPS,
  RAMP_SIZES,
  rampBands,
  type RampSheet,
} from './ramp-sheet';

const id = z.int().nonnegative();
const vector = z.tuple([z.number(), z.number(), z.number()]);

/** From the middle of the model's box, in parts of its diagonal. */
const place = z.tuple([
  z.number().min(-10).max(10),
  z.number().min(-10).max(10),
  z.number().min(-10).max(10),
]);

/** How tones run over what lies on a ramp: from 0 where they begin to 1 where they end. */
export const seatRunSchema = z.discriminatedUnion('kind', [
  /** Straight along a direction, model space. */
  z.strictObject({
    kind: z.literal('straight'),
    direction: vector.refine((d) => d.some((x) => x !== 0), 'a direction is not 0 in all three numbers'),
  }),
  /** By the distance from a place. */
  z.strictObject({ kind: z.literal('round'), centre: place }),
  /** By the way over the surface from a place. */
  z.strictObject({ kind: z.literal('along'), from: place }),
]);
export type AssignedMapping = z.infer<typeof seatRunSchema>;

/** The furthest that a run may reach past either end of its ramp, ramps. */
const FAR = 8;
const MOST_RINGS = 32;

/** How a part or a region lies on a ramp. */
export const seatFields = {
  of: targetSchema,
  /** Id of its ramp. */
  ramp: id,
  run: seatRunSchema,
  /** Where on the ramp the run begins and ends: 0..1 is the ramp, what lies beyond has its outermost colour. */
  from: z.number().min(-FAR).max(FAR),
  to: z.number().min(-FAR).max(FAR),
  /** Rings of faces that are slid: where along the run, 0..1, and by how much of the ramp. In order. */
  rings: z
    .array(z.tuple([z.number().min(0).max(1), z.number().min(-2).max(2)]))
    .max(MOST_RINGS)
    .refine((rings) => rings.every(([at], i) => i === 0 || at > rings[i - 1]![0]), 'rings stand in order'),
} as const;

export const seatSchema = z.strictObject({ id, ...seatFields });
export type RampAssignment = z.infer<typeof seatSchema>;

export const projectRampSchema = z.strictObject({
  id,
  name: z.string().min(1).max(60),
  colors: z
    .array(hexColor)
    .min(2, 'a ramp has two colours or more')
    .max(MOST_RAMP_COLORS, `a ramp has up to ${MOST_RAMP_COLORS} colours`),
});
export type ProjectRamp = z.infer<typeof projectRampSchema>;

/** The ramp sheet of a project, and what lies on it. */
export const projectRampsSchema = z.strictObject({
  size: z.literal([...RAMP_SIZES]),
  lie: z.enum(['columns', 'rows']),
  /** The sheet that it shares with other projects, and which of its states it has; null: it is its own. */
  shared: z
    .strictObject({ id: z.string().min(1).max(60), name: z.string().min(1).max(60), state: id })
    .nullable(),
  ramps: z.array(projectRampSchema).max(MOST_RAMPS),
  seats: z.array(seatSchema).max(2000),
});
export type ProjectRamps = z.infer<typeof projectRampsSchema>;

/** What a project's ramps must fulfil beyond their schema. @returns what is wrong, in a sentence; null if nothing is */
export function wrongRamps({ ramps, seats, size }: ProjectRamps): string | null {
  if (ramps.length < LEAST_RAMPS) {
    return `A ramp sheet has ${LEAST_RAMPS} ramps or more; this would have ${ramps.length}. Add a ramp first, or take the whole sheet off.`;
  }
  try {
    rampBands(ramps.length, size);
  } catch (error) {
    return (error as Error).message;
  }
  const names = new Set<string>();
  for (const { name } of ramps) {
    if (names.has(name)) return `Two ramps would be called “${name}”. Choose another name.`;
    names.add(name);
  }
  const ids = new Set(ramps.map((r) => r.id));
  const lost = seats.find((s) => !ids.has(s.ramp));
  return lost ? `Something lies on a ramp (number ${lost.ramp}) that isn't there.` : null;
}

/** The sheet as it is drawn. */
export const sheetOfRamps = ({ ramps, lie }: Pick<ProjectRamps, 'ramps' | 'lie'>): RampSheet => ({
  ramps: ramps.map(({ name, colors }) => ({ name, colors: [...colors] })),
  lie,
});

/** What lies on a ramp when the model changes: it stays at its place on the ramp. */
export const followSeat = (seat: RampAssignment, model: Follower): RampAssignment => ({
  ...seat,
  run: followRun(seat.run, model),
});

function followRun(run: AssignedMapping, model: Follower): AssignedMapping {
  switch (run.kind) {
    case 'straight':
      return model.placing ? { ...run, direction: [...model.direction(run.direction)] } : run;
    case 'round':
      return { ...run, centre: [...model.place(run.centre)] };
    case 'along':
      return { ...run, from: [...model.place(run.from)] };
  }
}
