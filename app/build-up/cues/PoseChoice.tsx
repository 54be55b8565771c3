import { Form } from 'react-bootstrap';
import { MOST_POSES, type InPoses, type MotionClip, type Pose } from '../../../core/motion';
import { shownPose, toMoment, usePose } from '../../project';
import { Chip } from '../../shared/Chip';

/** So many times of a clip are measured, evenly spread. */
const TIMES = 8;

const overClip = ({ name, seconds }: MotionClip): Pose[] =>
  Array.from({ length: seconds > 0 ? TIMES : 1 }, (_, i) => ({
    clip: name,
    time: toMoment((i / TIMES) * seconds),
    morphs: [],
  }));

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What is called the highest value of a cue. */
const MOST = { occlusion: 'Most open', cast: 'Most lit', nearness: 'Nearest' };

/** The poses over which a cue is measured: rest, the one that is shown, a clip, or chosen moments. */
export function PoseChoice({
  of,
  poses,
  onChange,
}: {
  readonly of: keyof typeof MOST;
  readonly poses: InPoses | null;
  readonly onChange: (poses: InPoses | null) => void;
}) {
  const clips = usePose((s) => s.motion?.clips);
  const shown = usePose(shownPose);
  if (!clips && !poses) return null;
  const over = (clips ?? []).findIndex((clip) => isSame(overClip(clip), poses?.at));
  const set = (at: readonly Pose[]): void =>
    onChange(at.length ? { at: at as InPoses['at'], take: poses?.take ?? 'mean' } : null);
  const choose = (value: string): void => {
    if (value === 'rest') set([]);
    else if (value === 'shown') set([rounded(shown)]);
    else set(overClip(clips![Number(value)]!));
  };
  return (
    <>
      <div className="row cue-row">
        <Form.Select
          size="sm"
          aria-label="Poses"
          title="The poses of the model in which it is measured"
          value={!poses ? 'rest' : over >= 0 ? over : 'chosen'}
          onChange={(e) => choose(e.target.value)}
        >
          <option value="rest">at rest</option>
          <option value="shown">in shown pose</option>
          {clips?.map(({ name }, i) => (
            <option key={i} value={i}>
              {name || `clip ${i + 1}`}, whole clip
            </option>
          ))}
          {poses && over < 0 && <option value="chosen">in chosen poses</option>}
        </Form.Select>
        {poses && poses.at.length > 1 && (
          <Form.Select
            size="sm"
            aria-label="Of the poses"
            title="What is taken of the values in the poses"
            value={poses.take}
            onChange={(e) => onChange({ ...poses, take: e.target.value as InPoses['take'] })}
          >
            <option value="mean">mean</option>
            <option value="most">{MOST[of].toLowerCase()}</option>
          </Form.Select>
        )}
      </div>
      {poses && (
        <div className="row pose-list" role="group" aria-label="Chosen poses">
          {poses.at.map((pose, i) => (
            <Chip key={i} title="Leave this pose out" onClick={() => set(poses.at.filter((_, k) => k !== i))}>
              {poseName(pose)} <span aria-hidden>×</span>
            </Chip>
          ))}
          <Chip
            title="Measure it in the pose that is shown as well"
            disabled={poses.at.length >= MOST_POSES || poses.at.some((p) => isSame(p, rounded(shown)))}
            onClick={() => set([...poses.at, rounded(shown)])}
          >
            Add pose
          </Chip>
        </div>
      )}
    </>
  );
}

/** A pose as it is kept. */
const rounded = ({ clip, time, morphs }: Pose): Pose => ({ clip, time: toMoment(time), morphs });

const poseName = ({ clip, time, morphs }: Pose): string =>
  [clip === null ? 'Rest' : `${time.toFixed(2)} s`, ...(morphs.length ? ['morphed'] : [])].join(', ');
