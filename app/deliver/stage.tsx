import { LOOK_TOOL } from '../viewport';
import { DeliverPanel } from './DeliverPanel';

export const stage = { useTool: () => LOOK_TOOL, Panel: DeliverPanel };
