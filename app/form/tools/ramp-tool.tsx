import { Vector3 } from 'three';
import { create } from 'zustand';
import { hexToRgb, oklchToRgb, rgbToHex, rgbToOklch } from '../../../core/color';
import type { CueSpec } from '../../../core/cues';
import { NODE_DEFAULTS, PLAIN_LEVELS } from '../../../core/engine';
import { boundsOf, centreOf, diagonalOf, type UvMesh } from '../../../core/mesh';
import { type Session, useProject } from '../../project';
import { notify } from '../../shared/notify';
import { useUi } from '../../shared/ui-store';
import { LineOver, pointInPlane, type PointerAt, type StageView, type ToolMaker } from '../../viewport';
import { riseBetween, snapped } from './ramp-geometry';
import type { Vec3 } from '../../../core/math';

/** The line that is being drawn, model space. */
export const useRampLine = create<{ readonly line: readonly [Vec3, Vec3] | null }>(() => ({ line: null }));

/** How much darker the far end of a new ramp is, in OKLab lightness. */
const DARKER = 0.28;

/** Shorter than this on the screen a drag is a slip, pixels. */
const SLIP = 6;

/** A drag over the model lays a ramp along that line on the part where it begins; Shift snaps to front, side, top. */
export const rampTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'ramp',
    cursor: 'crosshair',
    press: (at, hit) => {
      if (!hit || at.pane !== 'model') return null;
      const start = hit.point.toArray() as unknown as Vec3;
      const [x, y] = [at.x, at.y];
      let end = start;
      return {
        move: (to) => {
          end = pointAt(view, hit.point, to);
          useRampLine.setState({ line: [start, end] });
        },
        end: (to) => {
          useRampLine.setState({ line: null });
          if (Math.hypot(to.x - x, to.y - y) < SLIP)
            notify('Drag a line: the ramp goes from where it begins to where it ends.');
          else {
            const { rampAlongForm } = useUi.getState();
            const there = rampAlongForm ? view.pick(to)?.point.toArray() : undefined;
            void layRamp(session, start, (there as unknown as Vec3 | undefined) ?? end, hit.part);
          }
        },
        cancel: () => useRampLine.setState({ line: null }),
      };
    },
    leave: () => {
      useUi.setState({ aiming: null });
      return true;
    },
    overlay: () => <DrawnRamp view={view} />,
  });

/** Where the pointer is in the plane that faces the eye at a place. */
function pointAt(view: StageView, place: Vector3, to: PointerAt): Vec3 {
  const point = pointInPlane(view, place, to.x, to.y);
  if (!to.shift) return point.toArray() as unknown as Vec3;
  const way = point.clone().sub(place);
  const side = new Vector3(...(snapped(way.toArray() as unknown as Vec3) as [number, number, number]));
  return place
    .clone()
    .addScaledVector(side, Math.abs(way.dot(side)))
    .toArray() as unknown as Vec3;
}

/** What rises along a line: straight in space, or the way over the surface from where it begins. */
function rampCue(mesh: UvMesh, start: Vec3, end: Vec3): CueSpec | null {
  if (useUi.getState().rampAlongForm) {
    const bounds = boundsOf(mesh.positions);
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

function DrawnRamp({ view }: { readonly view: StageView }) {
  const line = useRampLine((s) => s.line);
  return line && <LineOver view={view} line={line} />;
}
