import { z } from 'zod';
import type { Motion } from './motion';
import type { Pose } from './pose';

/** A pose of whatever file the model has. */
export const poseSchema = z.strictObject({
  clip: z.string().max(500).nullable(),
  /** Seconds. */
  time: z.number().min(0).max(1e6),
  morphs: z.array(z.tuple([z.string().max(500), z.int().nonnegative(), z.number()])).max(2000),
}) satisfies z.ZodType<Pose>;

/** A pose of the file that the model was read from. */
export const filePoseSchema = poseSchema.extend({
  /** The file, by its id in the project. */
  file: z.int().nonnegative(),
});

/** So many poses may something be measured over. */
export const MOST_POSES = 16;

/** Poses of the model's own file over which something is measured, and what is taken of its values: the mean, or the highest. */
export const inPosesSchema = z.strictObject({
  at: z.array(poseSchema).min(1).max(MOST_POSES),
  take: z.enum(['mean', 'most']),
});

export type InPoses = z.infer<typeof inPosesSchema>;

/** As it is kept: what is measured in one pose. */
export const onePose = ({ clip, time, morphs }: Pose): InPoses => ({
  at: [{ clip, time, morphs: morphs.map(([node, target, weight]) => [node, target, weight]) }],
  take: 'mean',
});

export type FilePose = z.infer<typeof filePoseSchema>;

/** Whether there is anything that a model can be posed by. */
export const canPose = ({ clips, nodes }: Pick<Motion, 'clips' | 'nodes'>): boolean =>
  clips.length > 0 || nodes.some((node) => node.weights.length > 0);

/** Whether a pose is the file as it stands. */
export const isRest = (pose: Pose): boolean => pose.clip === null && pose.morphs.length === 0;
