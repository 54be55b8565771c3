import './engine.css';
import { useEffect, useRef, useState } from 'react';
import { sentenceOf } from '../../../core/errors';
import { EngineScene, GroundChips, groundStyle, standAround } from '../../engine-view';
import { usePose, useProject, type Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useCommandBook } from '../../shared/commands';
import { notify } from '../../shared/notify';
import { isShown, paneRect } from '../../shared/panes';
import { useUi } from '../../shared/ui-store';
import { useDelivery } from '../delivery-settings';
import { closeEngine, setEngineLook, showInEngine, useEngineView } from './engine-store';
import { savePortfolio } from './save-portfolio';
import { TurntableDialog } from './TurntableDialog';
import { standSetAround, useSetsOf } from './with-set';

/** What is delivered, read from its bytes and shown as an engine shows it, beside the painting. */
export function EngineOver({ session }: { readonly session: Session }) {
  const isHere = useUi((s) => isShown(s.panes, 'engine'));
  // It belongs to this stage.
  useEffect(() => closeEngine, []);
  return isHere ? <EnginePane session={session} /> : null;
}

function EnginePane({ session }: { readonly session: Session }) {
  const host = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [scene, setScene] = useState<EngineScene | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [drawn, setDrawn] = useState(0);
  const panes = useUi((s) => s.panes);
  const { delivered, others, atGameSize, ground, backdrops } = useEngineView();
  const gameSize = useDelivery((s) => s.settings.check.gameSize);
  const pane = paneRect(panes, 'engine', size.width, size.height);

  useEffect(() => {
    const watcher = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width, height });
    });
    watcher.observe(host.current!);
    return () => watcher.disconnect();
  }, []);
  const width = pane?.width ?? 0;
  const height = pane?.height ?? 0;
  const isThere = width > 0;
  useEffect(() => {
    if (!isThere || !canvas.current) return;
    const made = new EngineScene(
      canvas.current,
      () => setDrawn((n) => n + 1),
      useEngineView.getState().backdrops,
    );
    setScene(made);
    return () => {
      setScene(null);
      made.dispose();
    };
  }, [isThere]);
  useEffect(() => {
    if (scene && width > 0) scene.resize(width, height);
  }, [scene, width, height]);
  useEffect(() => {
    if (!scene || !delivered) return;
    scene
      .show(
        [delivered.glb, ...others.map((o) => o.glb)],
        delivered.look,
        [1, ...others.map((o) => o.scale)],
        standAround,
      )
      .then((isOther) => {
        const { atGameSize: isSmall } = useEngineView.getState();
        if (isOther) scene.stand(isSmall ? useDelivery.getState().settings.check.gameSize : null);
      })
      .catch((error: unknown) => notify(`The file could not be shown: ${sentenceOf(error)}`));
  }, [scene, delivered, others]);
  useEffect(() => scene?.showBackdrops(backdrops), [scene, backdrops]);
  usePosedScene(scene);
  useEffect(() => {
    if (delivered) scene?.stand(atGameSize ? gameSize : null);
  }, [scene, atGameSize, gameSize, delivered, others]);

  return (
    <div className="engine-host" ref={host}>
      {pane && (
        <div className="engine-pane" style={{ left: pane.x, width, height, ...groundStyle(ground) }}>
          <canvas
            ref={canvas}
            aria-label="What is delivered, as an engine shows it"
            data-drawn={drawn}
            style={{ width, height }}
          />
          <EngineChips session={session} scene={scene} />
        </div>
      )}
    </div>
  );
}

/** What is delivered stands in the pose in hand. */
function usePosedScene(scene: EngineScene | null): void {
  useEffect(() => {
    if (!scene) return;
    const show = (): void => {
      const { motion, pose } = usePose.getState();
      const clip = motion?.clips.findIndex(({ name }) => name === pose.clip) ?? -1;
      scene.pose({ clip, time: pose.time, morphs: pose.morphs });
    };
    show();
    return usePose.subscribe(show);
  }, [scene]);
}

const LOOKS = [
  ['unlit', 'Unlit'],
  ['toon', 'Toon'],
  ['values', 'Values'],
] as const;

function EngineChips({ session, scene }: { readonly session: Session; readonly scene: EngineScene | null }) {
  const { delivered, look, atGameSize, ground, withSet, backdrops } = useEngineView();
  const hasBackdrops = useProject((s) => (s.mesh?.backdrops ?? 0) > 0);
  const inSets = useSetsOf(session.project);
  const { document, strokes } = useProject();
  const gameSize = useDelivery((s) => s.settings.check.gameSize);
  const { run } = useCommandBook();
  const [turning, setTurning] = useState(false);
  const isOld = delivered !== null && (delivered.document !== document || delivered.strokes !== strokes);
  return (
    <>
      <div className="engine-chips" role="group" aria-label="How an engine shows it">
        {LOOKS.map(([name, title]) => (
          <Chip key={name} on={look === name} onClick={() => void setEngineLook(session, name)}>
            {title}
          </Chip>
        ))}
        <Chip
          on={atGameSize}
          title={`${gameSize} pixels high, as what is asked says`}
          onClick={() => useEngineView.setState({ atGameSize: !atGameSize })}
        >
          Game size
        </Chip>
        <Chip
          title="From in front, as it fills the view"
          onClick={() => scene?.stand(atGameSize ? gameSize : null)}
        >
          Front
        </Chip>
        <Chip aria-label="Close the engine’s view" onClick={closeEngine}>
          ×
        </Chip>
      </div>
      <div className="engine-chips foot" role="group" aria-label="What stands behind and around it">
        <GroundChips ground={ground} onGround={(ground) => useEngineView.setState({ ground })} />
        {hasBackdrops && (
          <Chip
            on={backdrops}
            title="The planes behind and before it, as they are delivered"
            onClick={() => useEngineView.setState({ backdrops: !backdrops })}
          >
            Backdrops
          </Chip>
        )}
        {inSets.length > 0 && (
          <Chip
            on={withSet}
            title={`The other projects of “${inSets[0]!.name}” stand around it, at one scale`}
            onClick={() => void standSetAround(inSets[0]!, session.project, !withSet)}
          >
            Its set
          </Chip>
        )}
        <Chip disabled={!scene || !delivered} onClick={() => setTurning(true)}>
          Turntable…
        </Chip>
        <Chip
          disabled={!delivered}
          title="From four sides, values, wireframe, flat colours and layout as one picture"
          onClick={() => void savePortfolio()}
        >
          Portfolio
        </Chip>
      </div>
      {turning && scene && (
        <TurntableDialog session={session} scene={scene} onClose={() => setTurning(false)} />
      )}
      {isOld && (
        <div className="tool-bar engine-old">
          <span>The painting has changed since.</span>
          <Chip onClick={() => void showInEngine(session)}>Deliver afresh</Chip>
        </div>
      )}
      {!delivered && (
        <p className="engine-old tool-bar">
          Nothing is shown yet. <Chip onClick={() => run('show-in-engine')}>Deliver afresh</Chip>
        </p>
      )}
    </>
  );
}
