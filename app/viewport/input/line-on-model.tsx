import type { Vector3 } from 'three';
import { create, type StoreApi, type UseBoundStore } from 'zustand';
import type { Vec3 } from '../../../core/math';
import { notify } from '../../shared/notify';
import type { Hit } from '../view/picker';
import type { StageView } from '../view/stage-view';
import { LineOver } from './LineOver';
import { pointInPlane } from './plane-point';
import type { PointerAt, Tool } from './tool';

/** Shorter than this on the screen a drag is a slip, pixels. */
const SLIP = 6;

type DrawnLine = UseBoundStore<StoreApi<{ readonly line: readonly [Vec3, Vec3] | null }>>;

/** What a straight line over the model is drawn for. */
export interface LineOnModel {
  /** Told when the line was too short to be one. */
  readonly slip: string;
  /** Where the line's end lies; the plane that faces the eye, if left out. Model space. */
  readonly place?: (start: Vector3, at: PointerAt) => Vector3;
  readonly drawn: (start: Vec3, end: Vec3, hit: Hit, at: PointerAt) => void;
}

/** A drag from a place on the model draws a line from there. @returns what a tool that does so needs */
export function lineOnModel(
  view: StageView,
  { slip, place = (start, at) => pointInPlane(view, start, at.x, at.y), drawn }: LineOnModel,
): Required<Pick<Tool, 'press' | 'overlay'>> {
  const useDrawn: DrawnLine = create(() => ({ line: null }));
  return {
    press: (from, hit) => {
      if (!hit || from.pane !== 'model') return null;
      const start = vec3(hit.point);
      let end = start;
      return {
        move: (to) => {
          end = vec3(place(hit.point, to));
          useDrawn.setState({ line: [start, end] });
        },
        end: (to) => {
          useDrawn.setState({ line: null });
          if (Math.hypot(to.x - from.x, to.y - from.y) < SLIP) notify(slip);
          else drawn(start, end, hit, to);
        },
        cancel: () => useDrawn.setState({ line: null }),
      };
    },
    overlay: () => <Drawn view={view} useDrawn={useDrawn} />,
  };
}

const vec3 = ({ x, y, z }: Vector3): Vec3 => [x, y, z];

function Drawn({ view, useDrawn }: { readonly view: StageView; readonly useDrawn: DrawnLine }) {
  const line = useDrawn((s) => s.line);
  return line && <LineOver view={view} line={line} />;
}
