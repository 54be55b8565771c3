import { z } from 'zod';

const direction = z.tuple([z.number(), z.number(), z.number()]);

export const AXES = ['x', 'y', 'z'] as const;
export type Axis = (typeof AXES)[number];

/** What is measured. A cue's value is 0..1 a texel. */
export const cueSpec = z.discriminatedUnion('cue', [
  z.strictObject({
    cue: z.literal('occlusion'),
    /** Rays a texel. */
    rays: z.int().min(1).max(4096),
    /** How far a ray looks, in parts of the model's diagonal; null looks without end. */
    reach: z.number().positive().nullable(),
  }),
  z.strictObject({ cue: z.literal('height'), axis: z.enum(AXES) }),
  z.strictObject({ cue: z.literal('facing'), direction }),
]);

export type CueSpec = z.infer<typeof cueSpec>;
export type OcclusionSpec = Extract<CueSpec, { cue: 'occlusion' }>;

export const DEFAULT_CUES = {
  occlusion: { cue: 'occlusion', rays: 64, reach: 0.25 },
  height: { cue: 'height', axis: 'y' },
  facing: { cue: 'facing', direction: [0, 1, 0] },
} as const satisfies Record<CueSpec['cue'], CueSpec>;

/** Two specs measure the same thing exactly when their keys are equal. */
export function cueKey(spec: CueSpec): string {
  switch (spec.cue) {
    case 'occlusion':
      return `occlusion ${spec.rays} ${spec.reach ?? 'endless'}`;
    case 'height':
      return `height ${spec.axis}`;
    case 'facing':
      return `facing ${spec.direction.join(' ')}`;
  }
}
