import { activeLight, type Session } from '../../project';
import { newGesture } from '../../shared/gesture';
import { useUi } from '../../shared/ui-store';
import type { Hit, ToolMaker } from '../../viewport';
import { LightHandle } from './LightHandle';

/** A drag on the model aims the light plan's key: it comes straight onto the place under the pointer. */
export const lightTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'light',
    cursor: 'move',
    press: (at, hit) => {
      if (!hit || at.pane !== 'model') return null;
      const gesture = newGesture();
      const before = activeLight();
      const aim = (place: Hit): void => {
        const light = activeLight();
        if (!light) return;
        const direction = place.normal.toArray().map((n) => Number(n.toFixed(4))) as [number, number, number];
        void session.command({ do: 'patch-light', light: light.id, patch: { key: { direction } } }, gesture);
      };
      aim(hit);
      return {
        move: (to) => {
          const place = view.pick(to);
          if (place) aim(place);
        },
        end: () => undefined,
        cancel: () => {
          if (!before) return;
          const { direction } = before.plan.key;
          void session.command(
            { do: 'patch-light', light: before.id, patch: { key: { direction } } },
            gesture,
          );
        },
      };
    },
    leave: () => {
      useUi.setState({ aiming: null });
      return true;
    },
    overlay: () => <LightHandle view={view} />,
  });
