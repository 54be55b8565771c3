import { useMemo } from 'react';
import { boundsOf, triangleCount, vertexCount, type UvMesh } from '../../core/mesh';
import { type Session, useProject } from '../project';
import { ShareSlider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { chosenParts, useRoom } from '../viewport';
import { HealthList } from './HealthList';
import { ModelTools } from './ModelTools';
import { PartList } from './PartList';
import { PartSettings } from './PartSettings';
import { RegionList } from './RegionList';

/** The parts of the model, what is wrong with it, and how it is looked at. */
export function ModelPanel({ session }: { readonly session: Session }) {
  const room = useRoom();
  const mesh = useProject((s) => s.mesh);
  const ground = useUi((s) => s.ground);
  useUi((s) => s.selectedPart);
  useUi((s) => s.alsoParts);
  const onShow = (faces: ReadonlySet<number>): void => room.view?.camera.frameFaces(faces);
  if (!mesh) return null;
  return (
    <section className="panel" aria-label="Parts">
      <PartList session={session} mesh={mesh} />
      <PartSettings session={session} mesh={mesh} />
      <RegionList session={session} parts={chosenParts()} onShow={onShow} />
      <HealthList session={session} onShow={onShow} />
      <ModelTools session={session} />
      <ShareSlider label="Backdrop" value={ground} onChange={(v) => useUi.setState({ ground: v })} />
      <Facts mesh={mesh} />
      <p className="hint-line">
        Double-click a part to frame it, Shift-click to choose several. Right button turns, middle button
        moves, wheel comes nearer.
      </p>
    </section>
  );
}

function Facts({ mesh }: { readonly mesh: UvMesh }) {
  const { min, max } = useMemo(() => boundsOf(mesh.positions), [mesh]);
  return (
    <dl className="facts">
      <dt>Triangles</dt>
      <dd>{triangleCount(mesh).toLocaleString('en')}</dd>
      <dt>Vertices</dt>
      <dd>{vertexCount(mesh).toLocaleString('en')}</dd>
      <dt>Size</dt>
      <dd>{[0, 1, 2].map((a) => (max[a]! - min[a]!).toFixed(2)).join(' × ')}</dd>
    </dl>
  );
}
