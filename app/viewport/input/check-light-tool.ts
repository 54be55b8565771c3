import { useUi } from '../../shared/ui-store';
import { dragOverModel } from './over-model';
import type { ToolMaker } from './tool';

/** A drag on the model moves the lamp of the lit check: it shines straight onto the place under the pointer. */
export const checkLightTool: ToolMaker = (view) => ({
  name: 'check-light',
  cursor: 'move',
  press: (at, hit) => {
    if (!hit || at.pane !== 'model') return null;
    const before = useUi.getState().checkLights;
    return dragOverModel(
      view,
      hit,
      ({ normal }) =>
        useUi.setState(({ checkLights }) => ({ checkLights: { ...checkLights, key: normal.toArray() } })),
      () => useUi.setState({ checkLights: before }),
    );
  },
  leave: () => {
    useUi.setState({ aiming: null });
    return true;
  },
});
