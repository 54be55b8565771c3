import './engine.css';
import { useEffect, useRef, useState } from 'react';
import { sentenceOf } from '../../../core/errors';
import { useProject, type Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useCommandBook } from '../../shared/commands';
import { chooseFiles } from '../../shared/files';
import { notify } from '../../shared/notify';
import { isShown, paneRect } from '../../shared/panes';
import { useUi } from '../../shared/ui-store';
import { useDelivery } from '../delivery-settings';
import { EngineScene } from './engine-scene';
import {
  CANAL,
  closeEngine,
  PLAIN_GROUNDS,
  setEngineLight,
  showInEngine,
  useEngineView,
  type Backdrop,
} from './engine-store';

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
  const { delivered, atGameSize, backdrop } = useEngineView();
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
    const made = new EngineScene(canvas.current, () => setDrawn((n) => n + 1));
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
      .show(delivered.glb, delivered.light)
      .catch((error: unknown) => notify(`The file could not be shown: ${sentenceOf(error)}`));
  }, [scene, delivered]);
  useEffect(() => {
    if (delivered) scene?.stand(atGameSize ? gameSize : null);
  }, [scene, atGameSize, gameSize, delivered]);

  return (
    <div className="engine-host" ref={host}>
      {pane && (
        <div className="engine-pane" style={{ left: pane.x, width, height, ...groundOf(backdrop) }}>
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

const groundOf = (backdrop: Backdrop) =>
  backdrop.kind === 'plain'
    ? {
        background: `rgb(${Array(3)
          .fill(Math.round(backdrop.grey * 255))
          .join(' ')})`,
      }
    : { background: `center / cover url("${backdrop.url}")` };

function EngineChips({ session, scene }: { readonly session: Session; readonly scene: EngineScene | null }) {
  const { delivered, light, atGameSize, backdrop } = useEngineView();
  const { document, strokes } = useProject();
  const gameSize = useDelivery((s) => s.settings.check.gameSize);
  const { run } = useCommandBook();
  const isOld = delivered !== null && (delivered.document !== document || delivered.strokes !== strokes);
  return (
    <>
      <div className="engine-chips" role="group" aria-label="How an engine shows it">
        <Chip on={light === 'unlit'} onClick={() => void setEngineLight(session, 'unlit')}>
          Unlit
        </Chip>
        <Chip on={light === 'toon'} onClick={() => void setEngineLight(session, 'toon')}>
          Toon
        </Chip>
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
      <div className="engine-chips foot" role="group" aria-label="What stands behind it">
        {PLAIN_GROUNDS.map(([name, grey]) => (
          <Chip
            key={name}
            on={backdrop.kind === 'plain' && backdrop.grey === grey}
            onClick={() => useEngineView.setState({ backdrop: { kind: 'plain', grey } })}
          >
            {name}
          </Chip>
        ))}
        <Chip
          on={backdrop.kind === 'picture' && backdrop.url === CANAL.url}
          onClick={() => useEngineView.setState({ backdrop: CANAL })}
        >
          Canal
        </Chip>
        <Chip
          on={backdrop.kind === 'picture' && backdrop.url !== CANAL.url}
          onClick={() => void choosePicture()}
        >
          Picture…
        </Chip>
      </div>
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

async function choosePicture(): Promise<void> {
  const [file] = await chooseFiles('image/*', false);
  if (!file) return;
  const url = URL.createObjectURL(file);
  try {
    await createImageBitmap(file).then((bitmap) => bitmap.close());
  } catch {
    URL.revokeObjectURL(url);
    return notify(`“${file.name}” is no picture that can be shown. Choose a PNG, JPEG or WebP file.`);
  }
  const { backdrop } = useEngineView.getState();
  if (backdrop.kind === 'picture' && backdrop.url.startsWith('blob:')) URL.revokeObjectURL(backdrop.url);
  useEngineView.setState({ backdrop: { kind: 'picture', name: file.name, url } });
}
