import { Vector3 } from 'three';
import { hexToRgb, oklchToRgb, rgbToHex, rgbToOklch } from '../../../core/color';
import type { CueSpec } from '../../../core/cues';
import { NODE_DEFAULTS, PLAIN_LEVELS } from '../../../core/layers';
import { centreOf, diagonalOf, subjectBounds, type UvMesh } from '../../../core/mesh';
import { type Session, useProject } from '../../project';
import { useUi } from '../../shared/ui-store';
import { lineOnModel, pointInPlane, type PointerAt, type StageView, type ToolMaker } from '../../viewport';
import { riseBetween, snapped } from './ramp-geometry';
import type { Vec3 } from '../../../core/math';

/** How much darker the far end of a new ramp is, in OKLab lightness. */
const DARKER = 0.28;

/** A drag over the model lays a ramp along that line on the part where it begins; Shift snaps to front, side, top. */
export const rampTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'ramp',
    cursor: 'crosshair',
    ...lineOnModel(view, {
      slip: 'Drag a line: the ramp goes from where it begins to where it ends.',
      place: (start, to) => pointAt(view, start, to),
      drawn: (start, end, hit, to) => {
        const there = useUi.getState().rampAlongForm ? view.pick(to)?.point : undefined;
        void layRamp(session, start, there ? [there.x, there.y, there.z] : end, hit.part);
      },
    }),
    leave: () => {
      useUi.setState({ aiming: null });
      return true;
    },
  });

/** Where the pointer is in the plane that faces the eye at a place. */
function pointAt(view: StageView, place: Vector3, to: PointerAt): Vector3 {
  const point = pointInPlane(view, place, to.x, to.y);
  if (!to.shift) return point;
  const way = point.clone().sub(place);
  const [x, y, z] = snapped([way.x, way.y, way.z]);
  const side = new Vector3(x, y, z);
  return place.clone().addScaledVector(side, Math.abs(way.dot(side)));
}

/** What rises along a line: straight in space, or the way over the surface from where it begins. */
function rampCue(mesh: UvMesh, start: Vec3, end: Vec3): CueSpec | null {
  if (useUi.getState().rampAlongForm) {
    const bounds = subjectBounds(mesh);
    const diagonal = diagonalOf(bounds) || 1;
    const middle = centreOf(bounds);
    const point = start.map((x, k) => Number(((x - middle[k]!) / diagonal).toFixed(4)));
    const reach = Math.hypot(...end.map((x, k) => x - start[k]!)) / diagonal;
    return { cue: 'along', points: [point as [number, number, number]], reach: Number(reach.toFixed(4)) };
  }
  const rise = riseBetween(mesh, start, end);
  return rise && { cue: 'height', direction: [...rise.direction], from: rise.from, to: rise.to };
}

async function layRamp(session: Session, start: Vec3, end: Vec3, part: number): Promise<void> {
  const { mesh, document } = useProject.getState();
  const { color } = useUi.getState();
  const cue = mesh && rampCue(mesh, start, end);
  if (!mesh || !document || !cue) return;
  const lch = rgbToOklch(hexToRgb(color));
  const dark = rgbToHex(oklchToRgb({ ...lch, L: Math.max(0.08, lch.L - DARKER) }));
  const name = mesh.parts[part]!;
  const firstPainted = document.layers.findIndex((l) => l.kind === 'paint');
  const done = await session.command({
    do: 'add-layer',
    into: null,
    at: firstPainted < 0 ? document.layers.length : firstPainted,
    layer: {
      ...NODE_DEFAULTS,
      kind: 'tone',
      name: `Ramp on ${name}`.slice(0, 80),
      mask: [{ from: 'parts', join: 'multiply', levels: PLAIN_LEVELS, invert: false, parts: [name] }],
      mix: [
        {
          from: 'cue',
          cue,
          join: 'mix',
          weight: 1,
          levels: PLAIN_LEVELS,
          invert: false,
        },
      ],
      levels: PLAIN_LEVELS,
      ramp: {
        stops: [
          { at: 0, color },
          { at: 1, color: dark },
        ],
        mixing: 'oklab',
        hardness: 0,
      },
    },
  });
  const id = done?.ids[0];
  if (id !== undefined) useUi.setState({ target: { layer: id, channel: 'pixels' }, aiming: null });
}
