import { z } from 'zod';
import { MOST_RAMPS, projectRampSchema, projectRampsSchema, type ProjectRamps } from '../../ramps';
import { command } from '../command';
import { id } from '../fields';

const NEW: ProjectRamps = { size: 64, lie: 'columns', shared: null, ramps: [], seats: [] };

/** Makes the ramp sheet, or changes it. What lies on a ramp that goes, goes off it. */
export const setRamps = command(
  z.strictObject({
    do: z.literal('set-ramps'),
    size: projectRampsSchema.shape.size.optional(),
    lie: projectRampsSchema.shape.lie.optional(),
    shared: projectRampsSchema.shape.shared.optional(),
    /** All of them in order; `id: null` is a new one. */
    ramps: z
      .array(projectRampSchema.extend({ id: id.nullable() }))
      .max(MOST_RAMPS)
      .optional(),
  }),
  {
    label: () => 'Change the ramp sheet',
    apply: (document, { size, lie, shared, ramps: wanted }) => {
      const present = document.ramps ?? NEW;
      let { nextId } = document;
      const ramps = wanted ? wanted.map((ramp) => ({ ...ramp, id: ramp.id ?? nextId++ })) : present.ramps;
      const left = new Set(ramps.map((r) => r.id));
      const next: ProjectRamps = {
        size: size ?? present.size,
        lie: lie ?? present.lie,
        shared: shared === undefined ? present.shared : shared,
        ramps,
        seats: present.seats.filter((s) => left.has(s.ramp)),
      };
      const ids = ramps.map((r) => r.id).filter((id) => id >= document.nextId);
      return { document: { ...document, ramps: next, nextId }, ids };
    },
  },
);
