import { partTool } from '../viewport';
import { ModelPanel } from './ModelPanel';

export const stage = { useTool: () => partTool, Panel: ModelPanel, marks: true };
