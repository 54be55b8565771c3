import { rgbToHex } from '../../../core/color';
import { notify } from '../../shared/notify';
import { useUi } from '../../shared/ui-store';
import type { ToolMaker } from './tool';

/** Picks the colour that is stored under the pointer. */
export const colorTool: ToolMaker = (view) => ({
  name: 'color',
  cursor: 'copy',
  press: (at) => {
    const hit = view.pickSeen(at);
    if (!hit) return 'done';
    const color = view.colorAt(hit);
    if (color) useUi.setState({ color: rgbToHex(color), picking: false });
    else notify('Nothing is painted there yet.');
    return 'done';
  },
  leave: () => {
    useUi.setState({ picking: false });
    return true;
  },
});
