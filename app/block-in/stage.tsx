import { BuildUp } from '../build-up';
import { partTool } from '../viewport';
import { PartColor } from './PartColor';

export const stage = { useTool: () => partTool, Panel: BuildUp, Over: PartColor };
