import { create } from 'zustand';
import { isRest, REST, type FilePose, type Motion, type Pose } from '../../core/motion';

interface PoseState {
  /** How the model's file moves; null where there is nothing to pose it by, or that isn't read yet. */
  readonly motion: Motion | null;
  /** The file that it is of, by its id in the project. */
  readonly file: number | null;
  readonly pose: Pose;
  readonly playing: boolean;
  /** What is in hand is done at rest: the model stands so meanwhile. */
  readonly suspended: boolean;
}

const NONE: PoseState = { motion: null, file: null, pose: REST, playing: false, suspended: false };

/** The pose in which the model is looked at and painted. */
export const usePose = create<PoseState>(() => NONE);

/** The pose that is shown. */
export const shownPose = ({ pose, suspended }: Pick<PoseState, 'pose' | 'suspended'>): Pose =>
  suspended ? REST : pose;

/** The pose of a stroke that begins now, which stops what plays; undefined: at rest. */
export function poseInHand(): FilePose | undefined {
  const { file, playing } = usePose.getState();
  if (playing) usePose.setState({ playing: false });
  const pose = shownPose(usePose.getState());
  if (file === null || isRest(pose)) return undefined;
  const { clip, time, morphs } = pose;
  return { file, clip, time, morphs: morphs.map(([node, target, weight]) => [node, target, weight]) };
}

/** Milliseconds are as fine as a moment is told. */
export const toMoment = (seconds: number): number => Math.round(seconds * 1000) / 1000;

/** Takes the motion of a file, or none. */
export function takeMotion(file: number | null, motion: Motion | null): void {
  const before = usePose.getState();
  const isSame = file === before.file && motion !== null;
  usePose.setState({ ...NONE, file, motion, ...(isSame && { pose: before.pose }) });
}
