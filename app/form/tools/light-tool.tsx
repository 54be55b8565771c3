import { activeLight, type Session } from '../../project';
import { newGesture } from '../../shared/gesture';
import { useUi } from '../../shared/ui-store';
import { dragOverModel, type ToolMaker } from '../../viewport';
import { LightHandle } from './LightHandle';

type Direction = [number, number, number];

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
      const aimAt = (light: number, direction: Direction): void =>
        void session.command({ do: 'patch-light', light, patch: { key: { direction } } }, gesture);
      return dragOverModel(
        view,
        hit,
        ({ normal }) => {
          const light = activeLight();
          if (light) aimAt(light.id, normal.toArray().map((n) => Number(n.toFixed(4))) as Direction);
        },
        () => {
          if (before) aimAt(before.id, [...before.plan.key.direction]);
        },
      );
    },
    leave: () => {
      useUi.setState({ aiming: null });
      return true;
    },
    overlay: () => <LightHandle view={view} />,
  });
