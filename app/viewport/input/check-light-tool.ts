import { useUi } from '../../shared/ui-store';
import type { Hit } from '../view/picker';
import type { ToolMaker } from './tool';

/** A drag on the model moves the lamp of the lit check: it shines straight onto the place under the pointer. */
export const checkLightTool: ToolMaker = (view) => ({
  name: 'check-light',
  cursor: 'move',
  press: (at, hit) => {
    if (!hit || at.pane !== 'model') return null;
    const before = useUi.getState().checkLights;
    const aim = (place: Hit): void =>
      useUi.setState(({ checkLights }) => ({ checkLights: { ...checkLights, key: place.normal.toArray() } }));
    aim(hit);
    return {
      move: (to) => {
        const place = view.pick(to);
        if (place) aim(place);
      },
      end: () => undefined,
      cancel: () => useUi.setState({ checkLights: before }),
    };
  },
  leave: () => {
    useUi.setState({ aiming: null });
    return true;
  },
});
