import './pose.css';
import { useEffect } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import { Pause } from '@phosphor-icons/react/Pause';
import { Play } from '@phosphor-icons/react/Play';
import type { PoseMap } from '../../../core/cues';
import { isRest, REST, type Motion, type Pose } from '../../../core/motion';
import { shownPose, takeMotion, toMoment, usePose, useProject, type Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { FixedMenu } from '../../shared/FixedMenu';
import { heatGradient } from '../../shared/heat-colors';
import { PAINT } from '../../shared/shown';
import { Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';

/** Reads how the model's file moves, whenever it is another one. */
function useMotion(session: Session): Motion | null {
  const status = useProject((s) => s.status);
  const file = useProject((s) => s.document?.modelFile?.id ?? null);
  useEffect(() => {
    if (status !== 'ready') return;
    if (usePose.getState().file !== file) takeMotion(file, null);
    if (file === null) return;
    let isAsked = true;
    void session.motion().then((motion) => isAsked && takeMotion(file, motion));
    return () => {
      isAsked = false;
    };
  }, [session, status, file]);
  return usePose((s) => s.motion);
}

/** The clip goes round while it plays. */
function usePlaying(seconds: number): void {
  const playing = usePose((s) => s.playing);
  useEffect(() => {
    if (!playing || !(seconds > 0)) return;
    let before = performance.now();
    let frame = 0;
    const step = (now: number): void => {
      const { pose } = usePose.getState();
      const time = (pose.time + (now - before) / 1000) % seconds;
      before = now;
      // What a millisecond leaves over isn't lost: it is only told so.
      usePose.setState({ pose: { ...pose, time } });
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => {
      cancelAnimationFrame(frame);
      const { pose } = usePose.getState();
      usePose.setState({ pose: { ...pose, time: toMoment(pose.time) } });
    };
  }, [playing, seconds]);
}

const change = (patch: Partial<Pose>): void =>
  usePose.setState(({ pose }) => ({ pose: { ...pose, ...patch } }));

/** The pose in which the model is looked at and painted: a clip and its moment, morph weights, or rest. */
export function PoseStrip({ session, note }: { readonly session: Session; readonly note?: string | null }) {
  const motion = useMotion(session);
  const { playing } = usePose();
  const pose = usePose(shownPose);
  const suspended = note !== undefined && note !== null;
  useEffect(() => usePose.setState({ suspended }), [suspended]);
  useEffect(() => () => usePose.setState({ playing: false, suspended: false }), []);
  const clip = motion?.clips.find((c) => c.name === pose.clip);
  usePlaying(clip?.seconds ?? 0);
  if (!motion) return null;
  return (
    <section className="pose-strip" aria-label="Pose">
      <Form.Select
        size="sm"
        aria-label="Clip"
        title="The clip of the model’s file by which it is posed"
        value={pose.clip ?? ''}
        disabled={suspended}
        onChange={(e) => change({ clip: e.target.value || null, time: 0 })}
      >
        <option value="">Rest pose</option>
        {motion.clips.map(({ name }, i) => (
          <option key={i} value={name}>
            {name || `Clip ${i + 1}`}
          </option>
        ))}
      </Form.Select>
      {clip && (
        <>
          <Chip
            aria-label={playing ? 'Pause' : 'Play'}
            title={playing ? 'Pause the clip' : 'Play the clip; a stroke pauses it'}
            on={playing}
            onClick={() => usePose.setState({ playing: !playing })}
          >
            {playing ? <Pause weight="fill" /> : <Play weight="fill" />}
          </Chip>
          <Slider
            label="Time"
            value={Math.min(pose.time, clip.seconds)}
            min={0}
            max={clip.seconds || 1}
            step={0.001}
            show={(t) => `${t.toFixed(2)} s`}
            read={(text) => Number.parseFloat(text)}
            onChange={(time) => {
              usePose.setState({ playing: false });
              change({ time: toMoment(time) });
            }}
          />
        </>
      )}
      {!suspended && <MorphMenu motion={motion} pose={pose} />}
      {!isRest(pose) && (
        <Chip
          title="Back to the pose that the file has without any clip"
          onClick={() => usePose.setState({ pose: REST, playing: false })}
        >
          Rest
        </Chip>
      )}
      {!isRest(pose) && <PoseMaps />}
      {suspended && <span className="faint">{note}</span>}
    </section>
  );
}

function MorphMenu({ motion, pose }: { readonly motion: Motion; readonly pose: Pose }) {
  const targets = motion.nodes.flatMap(({ name, weights, targets: names }) =>
    weights.map((weight, target) => ({
      node: name,
      target,
      weight,
      label: names[target] ?? `${name} ${target + 1}`,
    })),
  );
  if (targets.length === 0) return null;
  const weightOf = (node: string, target: number): number | undefined =>
    pose.morphs.find(([n, t]) => n === node && t === target)?.[2];
  const set = (node: string, target: number, weight: number): void =>
    change({
      morphs: [...pose.morphs.filter(([n, t]) => n !== node || t !== target), [node, target, weight]],
    });
  return (
    <Dropdown autoClose="outside" drop="up">
      <Dropdown.Toggle as={Chip} on={pose.morphs.length > 0} title="Weights of the model’s morph targets">
        Morphs
      </Dropdown.Toggle>
      <FixedMenu className="pop morphs">
        {targets.map(({ node, target, weight, label }) => (
          <Slider
            key={`${node} ${target}`}
            label={label}
            value={weightOf(node, target) ?? weight}
            min={0}
            max={1}
            step={0.01}
            onChange={(w) => set(node, target, w)}
          />
        ))}
      </FixedMenu>
    </Dropdown>
  );
}

/** What is told of a pose, by what it is called, in a sentence, and at both ends of its colours. */
const MAPS: Readonly<Record<PoseMap, readonly [name: string, says: string, low: string, high: string]>> = {
  occlusion: [
    'Occlusion',
    'Where the pose lies more open or more hidden than the paint was made for',
    'more hidden',
    'more open',
  ],
  stretch: ['Stretch', 'How the pose stretches the surface', 'halved', 'doubled'],
};

/** Maps of how the pose lies to the paint, with the scale of the one that is shown. */
function PoseMaps() {
  const shown = useUi((s) => (s.shown.of === 'pose' ? s.shown.map : null));
  return (
    <div className="pose-maps" role="group" aria-label="Maps of the pose">
      {(Object.keys(MAPS) as PoseMap[]).map((map) => (
        <Chip
          key={map}
          on={shown === map}
          title={MAPS[map][1]}
          onClick={() => useUi.setState({ shown: shown === map ? PAINT : { of: 'pose', map } })}
        >
          {MAPS[map][0]}
        </Chip>
      ))}
      {shown && (
        <span className="faint pose-scale">
          {MAPS[shown][2]} <i aria-hidden style={{ backgroundImage: heatGradient(true) }} /> {MAPS[shown][3]}
        </span>
      )}
    </div>
  );
}
