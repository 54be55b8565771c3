import { useEffect, useRef, useState } from 'react';
import {
  EngineScene,
  GREY_GROUND,
  GroundChips,
  groundStyle,
  standInRow,
  type EngineLook,
  type Foot,
} from '../engine-view';
import { sentenceOf } from '../../core/errors';
import { Chip } from '../shared/Chip';
import { notify } from '../shared/notify';
import type { Member } from './use-seen';

const LOOKS: readonly (readonly [EngineLook, string])[] = [
  ['unlit', 'Unlit'],
  ['toon', 'Toon'],
  ['values', 'Values'],
];

/** A step of the arrow keys, radians. */
const STEP = Math.PI / 12;

/** All projects of a set as an engine shows them, in a row and at one scale. */
export function Wall({
  members,
  chosen,
  onChoose,
}: {
  readonly members: readonly Member[];
  readonly chosen: string | null;
  onChoose(id: string): void;
}) {
  const host = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [scene, setScene] = useState<EngineScene | null>(null);
  const [look, setLook] = useState<EngineLook>('unlit');
  const [ground, setGround] = useState(GREY_GROUND);
  const [feet, setFeet] = useState<readonly Foot[]>([]);
  const shown = members.filter((m) => m.seen);

  useEffect(() => {
    const made: EngineScene = new EngineScene(canvas.current!, () => setFeet(made.feet()));
    setScene(made);
    const watcher = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width > 0) {
        made.resize(width, height);
        made.stand(null, true);
      }
    });
    watcher.observe(host.current!);
    return () => {
      watcher.disconnect();
      made.dispose();
      setScene(null);
    };
  }, []);
  const state = shown.map((m) => m.id + m.seen!.glb.length).join();
  const scales = shown.map((m) => m.scale);
  useEffect(() => {
    const glbs = shown.map((m) => m.seen!.glb);
    if (!scene || glbs.length === 0) return;
    scene
      .show(glbs, look, scales, standInRow)
      .then(() => scene.stand(null, true))
      .catch((error: unknown) => notify(`The set could not be shown: ${sentenceOf(error)}`));
  }, [scene, state, scales.join()]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => scene?.dress(look), [scene, look]);

  return (
    <section className="wall" ref={host} style={groundStyle(ground)} aria-label="Wall">
      <canvas
        ref={canvas}
        tabIndex={0}
        data-shown={shown.length}
        data-drawn={feet.length}
        aria-label="All of the set at one scale; the arrow keys go round it"
        onKeyDown={(e) => {
          if (e.key === 'ArrowLeft') scene?.goRound(-STEP);
          if (e.key === 'ArrowRight') scene?.goRound(STEP);
        }}
      />
      <div className="wall-chips" role="group" aria-label="How an engine shows it">
        {LOOKS.map(([name, title]) => (
          <Chip key={name} on={look === name} onClick={() => setLook(name)}>
            {title}
          </Chip>
        ))}
        <Chip title="All of them, from in front" onClick={() => scene?.stand(null, true)}>
          Front
        </Chip>
      </div>
      {shown.map(({ id, name }, i) =>
        feet[i] ? (
          <button
            key={id}
            type="button"
            className={id === chosen ? 'wall-name on' : 'wall-name'}
            style={{ left: feet[i].x, top: feet[i].y }}
            onClick={() => onChoose(id)}
          >
            {name}
          </button>
        ) : null,
      )}
      <div className="wall-chips foot" role="group" aria-label="What stands behind it">
        <GroundChips ground={ground} onGround={setGround} />
      </div>
      {members.length === 0 && (
        <p className="wall-empty">Nothing stands here yet. Add projects at the right.</p>
      )}
    </section>
  );
}
