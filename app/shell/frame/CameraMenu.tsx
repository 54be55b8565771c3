import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import type { Camera } from '../../../core/document';
import { type Session, useProject } from '../../project';
import { undoable } from '../../shared/notify';
import { Chip } from '../../shared/Chip';
import { useCommandBook, useTip } from '../../shared/commands';
import { Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { useEveryPicture, useView, type StageView } from '../../viewport';

const NONE: readonly Camera[] = [];

/** What is set more seldom about the picture: second view, wires, exact texels, and the camera in figures. */
export function CameraMenu({ session }: { readonly session: Session }) {
  const pinned = useUi((s) => s.pinned);
  const exact = useUi((s) => s.exact);
  const wires = useUi((s) => s.wires);
  const view = useView();
  const { run } = useCommandBook();
  const tip = useTip();
  const [open, setOpen] = useState(false);
  return (
    <Dropdown drop="up" autoClose="outside" show={open} onToggle={setOpen} className="camera-menu">
      <Dropdown.Toggle
        as="button"
        type="button"
        className="chip"
        title="The camera in figures, and how the picture is drawn"
      >
        More
      </Dropdown.Toggle>
      <Dropdown.Menu renderOnMount={false}>
        {open && (
          <div className="pop">
            <div className="row">
              <Chip title={tip('Where the model was seen from at first', 'home')} onClick={() => run('home')}>
                Home
              </Chip>
              <Chip title={tip('Where the last jump began', 'back')} onClick={() => run('back')}>
                Back
              </Chip>
              <Chip
                on={pinned !== null}
                title={tip(
                  'A small second view keeps this camera while you paint from elsewhere',
                  'pin-view',
                )}
                onClick={() => run('pin-view')}
              >
                Small view
              </Chip>
              <Chip
                on={wires}
                title={tip('The triangles’ edges over the paint', 'look-wires')}
                onClick={() => run('look-wires')}
              >
                Wireframe
              </Chip>
              <Chip
                on={exact}
                title={tip(
                  'Each texel as it is stored; otherwise near ones melt into each other and far ones are averaged',
                  'look-exact',
                )}
                onClick={() => run('look-exact')}
              >
                Exact texels
              </Chip>
            </div>
            <KeptCameras session={session} />
            {pinned && <SmallViewHeight />}
            {view && <CameraFields view={view} />}
          </div>
        )}
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** Cameras that are kept with the project, under names. */
function KeptCameras({ session }: { readonly session: Session }) {
  const cameras = useProject((s) => s.document?.cameras) ?? NONE;
  const view = useView();
  const [name, setName] = useState('');
  return (
    <div className="kept-cameras" role="group" aria-label="Kept cameras">
      {cameras.map((camera) => (
        <div className="row" key={camera.id}>
          <Chip title="Go there" onClick={() => view?.camera.goTo(camera.pose)}>
            {camera.name}
          </Chip>
          <Chip
            title={`The small view keeps “${camera.name}”`}
            onClick={() => useUi.setState({ pinned: camera.pose })}
          >
            Small
          </Chip>
          <Chip
            title={`Remove “${camera.name}”`}
            onClick={() =>
              void session
                .command({ do: 'remove-camera', camera: camera.id })
                .then(undoable(session, `“${camera.name}” was removed.`))
            }
          >
            Remove
          </Chip>
        </div>
      ))}
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          if (!view) return;
          const camera = {
            name: name.trim().slice(0, 60) || `Camera ${cameras.length + 1}`,
            pose: view.rig.pose(),
          };
          void session.command({ do: 'add-camera', camera });
          setName('');
        }}
      >
        <input
          className="swatch-name"
          placeholder="name"
          aria-label="Name for the present camera"
          value={name}
          maxLength={60}
          onChange={(e) => setName(e.target.value)}
        />
        <Chip type="submit">Keep this camera</Chip>
      </form>
    </div>
  );
}

function SmallViewHeight() {
  const height = useUi((s) => s.pinnedHeight);
  return (
    <Slider
      label="Small view"
      value={height}
      min={32}
      max={512}
      step={1}
      show={(v) => `${Math.round(v)} px`}
      onChange={(pinnedHeight) => useUi.setState({ pinnedHeight: Math.round(pinnedHeight) })}
    />
  );
}

const degrees = (v: number): string => `${Math.round(v)}°`;

function CameraFields({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const { rig } = view;
  const { azimuth, elevation, roll } = rig.angles();
  const moved = (change: () => void): void => {
    change();
    view.cameraMoved();
  };
  const angle = (label: string, name: 'azimuth' | 'elevation' | 'roll', value: number, most: number) => (
    <Slider
      label={label}
      value={value}
      min={-most}
      max={most}
      step={1}
      show={degrees}
      onChange={(v) => moved(() => rig.setAngles({ [name]: v }))}
    />
  );
  return (
    <>
      {angle('Azimuth', 'azimuth', azimuth, 180)}
      {angle('Elevation', 'elevation', elevation, 90)}
      {angle('Roll', 'roll', roll, 180)}
      <Slider
        label="Distance"
        value={rig.distance}
        min={rig.extent * 0.05}
        max={rig.extent * 10}
        step={rig.extent / 200}
        curve={2}
        onChange={(v) => moved(() => (rig.distance = v))}
      />
      <Slider
        label="Focal length"
        value={rig.focal}
        min={12}
        max={300}
        step={1}
        curve={2}
        show={(v) => `${Math.round(v)} mm`}
        onChange={(v) => moved(() => rig.setFocal(v))}
      />
      {([0, 1] as const).map((axis) => (
        <Slider
          key={axis}
          label={axis === 0 ? 'Shift right' : 'Shift up'}
          value={rig.shift.getComponent(axis)}
          min={-0.5}
          max={0.5}
          step={0.01}
          show={(v) => `${Math.round(v * 100)} %`}
          read={(text) => Number.parseFloat(text) / 100}
          onChange={(v) => moved(() => void rig.shift.setComponent(axis, v))}
        />
      ))}
      <p className="hint-line">
        {rig.flat
          ? 'Without perspective: the focal length shows once the model is turned.'
          : 'On a sensor of 36 × 24 mm.'}
      </p>
    </>
  );
}
