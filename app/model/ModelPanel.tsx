import { useMemo } from 'react';
import { subjectBounds, subjectOf, triangleCount, type UvMesh, vertexCount } from '../../core/mesh';
import { type Session, useProject } from '../project';
import { ShareSlider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { chosenParts, useViewport } from '../viewport';
import { BackdropSection } from './BackdropSection';
import { HealthList } from './HealthList';
import { ModelTools } from './ModelTools';
import { PartList } from './PartList';
import { PartSettings } from './PartSettings';
import { RegionList } from './RegionList';

/** The parts of the model, what is wrong with it, and how it is looked at. */
export function ModelPanel({ session }: { readonly session: Session }) {
  const viewport = useViewport();
  const mesh = useProject((s) => s.mesh);
  const ground = useUi((s) => s.ground);
  useUi((s) => s.selectedPart);
  useUi((s) => s.alsoParts);
  const onShow = (faces: ReadonlySet<number>): void => viewport.view?.camera.frameFaces(faces);
  if (!mesh) return null;
  const form = subjectOf(mesh);
  return (
    <section className="panel" aria-label="Parts">
      <PartList session={session} mesh={form} />
      <PartSettings session={session} mesh={form} />
      <RegionList session={session} parts={chosenParts()} onShow={onShow} />
      <HealthList session={session} onShow={onShow} />
      <ModelTools session={session} />
      <BackdropSection session={session} mesh={mesh} />
      <ShareSlider label="Ground" value={ground} onChange={(v) => useUi.setState({ ground: v })} />
      <Facts mesh={form} />
      <p className="hint-line">
        Double-click a part to frame it, Shift-click to choose several. Right button turns, middle button
        moves, wheel comes nearer.
      </p>
    </section>
  );
}

function Facts({ mesh }: { readonly mesh: UvMesh }) {
  const { min, max } = useMemo(() => subjectBounds(mesh), [mesh]);
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
