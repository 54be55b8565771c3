import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { ABOUT_WORDS, PLANE_WORDS, SIDE_WORDS } from './paint-words';
import { firstPlane } from './symmetry';
import { sideStroke, targetOrTold } from './tools/stroke-style';
import { ABOUTS, AXES, changeSymmetry, usePaint, type Axis } from './paint-store';

/** Brings the paint on one side of the first plane over to the other. @param back against the plane's direction */
async function copySide(session: Session, back: boolean): Promise<void> {
  const { mesh } = useProject.getState();
  const target = targetOrTold();
  if (!mesh || !target) return;
  const { symmetry } = usePaint.getState();
  const { point, normal } = firstPlane(symmetry, mesh, useUi.getState().selectedPart);
  const [x, y, z] = normal;
  const onto = back ? { point, normal: [-x, -y, -z] as [number, number, number] } : { point, normal };
  await session.command(sideStroke(target, onto, symmetry.twins));
}

/** Planes and axis of the symmetry, and where they stand. */
export function SymmetryFields({ session }: { readonly session: Session }) {
  const symmetry = usePaint((s) => s.symmetry);
  const { planes, axis, count, span, about, placing, twins } = symmetry;
  const change = (patch: Partial<typeof symmetry>): void => changeSymmetry({ on: true, ...patch });
  const toggle = (plane: Axis): void =>
    change({ planes: planes.includes(plane) ? planes.filter((p) => p !== plane) : [...planes, plane] });
  return (
    <>
      <div className="row" role="group" aria-label="Mirrored over">
        <small>Mirror</small>
        {AXES.map((plane) => (
          <Chip
            key={plane}
            on={planes.includes(plane)}
            title={PLANE_WORDS[plane][1]}
            onClick={() => toggle(plane)}
          >
            {PLANE_WORDS[plane][0]}
          </Chip>
        ))}
        <small>through</small>
        {ABOUTS.map((one) => (
          <Chip
            key={one}
            on={one === 'place' ? placing || about === one : about === one && !placing}
            title={ABOUT_WORDS[one][1]}
            onClick={() => change(one === 'place' ? { placing: true } : { about: one, placing: false })}
          >
            {one === 'place' && placing ? 'Press it…' : ABOUT_WORDS[one][0]}
          </Chip>
        ))}
      </div>
      <div className="row" role="group" aria-label="Over the plane">
        <Chip
          on={twins}
          title="By how the triangles of the two sides hang together, so that sides which differ a little meet all the same"
          onClick={() => change({ twins: !twins })}
        >
          By the mesh
        </Chip>
        <small>Copy</small>
        {SIDE_WORDS[planes[0] ?? 'x'].map(([title, says], i) => (
          <Chip key={title} title={says} onClick={() => void copySide(session, i === 0)}>
            {title}
          </Chip>
        ))}
      </div>
      <div className="row tone-row" role="group" aria-label="Round an axis">
        <small>Round</small>
        {AXES.map((one) => (
          <Chip
            key={one}
            on={axis === one}
            title={`Repeated round the ${one.toUpperCase()} axis`}
            onClick={() => change({ axis: axis === one ? null : one })}
          >
            {one.toUpperCase()}
          </Chip>
        ))}
        {about === 'place' && (
          <Chip
            on={axis === 'normal'}
            title="Repeated round the line out of the surface at the place"
            onClick={() => change({ axis: axis === 'normal' ? null : 'normal' })}
          >
            Out of it
          </Chip>
        )}
        {axis && (
          <>
            <Slider
              label="Count"
              value={count}
              min={2}
              max={64}
              step={1}
              curve={2}
              onChange={(n) => change({ count: Math.round(n) })}
            />
            <Slider
              label="Span"
              says="Over so many degrees"
              value={span}
              min={10}
              max={360}
              step={1}
              show={(v) => `${Math.round(v)}°`}
              onChange={(degrees) => change({ span: Math.round(degrees) })}
            />
          </>
        )}
      </div>
    </>
  );
}
