import { z } from 'zod';
import type { Motion } from './motion';
import type { Pose } from './pose';

/** A pose of the file that the model was read from. */
export const filePoseSchema = z.strictObject({
  /** The file, by its id in the project. */
  file: z.int().nonnegative(),
  clip: z.string().max(500).nullable(),
  /** Seconds. */
  time: z.number().min(0).max(1e6),
  morphs: z.array(z.tuple([z.string().max(500), z.int().nonnegative(), z.number()])).max(2000),
}) satisfies z.ZodType<Pose & { file: number }>;

export type FilePose = z.infer<typeof filePoseSchema>;

/** Whether there is anything that a model can be posed by. */
export const canPose = ({ clips, nodes }: Pick<Motion, 'clips' | 'nodes'>): boolean =>
  clips.length > 0 || nodes.some((node) => node.weights.length > 0);

/** Whether a pose is the file as it stands. */
export const isRest = (pose: Pose): boolean => pose.clip === null && pose.morphs.length === 0;
