import { LOOK_TOOL, PoseStrip } from '../viewport';
import { DeliverPanel } from './DeliverPanel';
import { EngineOver } from './engine/EngineOver';

export const stage = {
  useTool: () => LOOK_TOOL,
  Panel: DeliverPanel,
  Over: EngineOver,
  Below: PoseStrip,
  isPosed: true,
};
