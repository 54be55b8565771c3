import { Vector3 } from 'three';
import { useForm, useProject } from '../../project';
import { useEveryPicture, type StageView } from '../../viewport';

/** What lies behind the surface by more than so many pixels isn't seen. */
const SLACK = 6;

/** A ring at every place where a seam is held, as far as it is seen. */
export function HeldPoints({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const mesh = useForm();
  const points = useProject((s) => s.document?.seamPoints);
  const pane = view.pane('model');
  if (!pane || !mesh || !points || points.length === 0) return null;
  const seen = points.flatMap((corner) => {
    const place = new Vector3().fromArray(mesh.positions, mesh.indices[corner]! * 3);
    const { x, y } = view.rig.project(place);
    const hit = view.pick({ pane: 'model', x, y });
    const reach = SLACK * view.unitsPerPixel('model', place, 0);
    const isSeen = !hit || place.distanceTo(new Vector3(hit.point.x, hit.point.y, hit.point.z)) < reach;
    return isSeen ? [{ corner, x, y }] : [];
  });
  return (
    <svg
      className="pin-marks"
      style={{ left: pane.x, top: pane.y }}
      width={pane.width}
      height={pane.height}
      role="img"
      aria-label={`Seams are held at ${points.length} ${points.length === 1 ? 'place' : 'places'}`}
    >
      {seen.map(({ corner, x, y }) => (
        <circle key={corner} cx={x} cy={y} r={5} />
      ))}
    </svg>
  );
}
