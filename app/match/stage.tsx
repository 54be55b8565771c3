import { LOOK_TOOL } from '../viewport';
import { MatchPanel } from './MatchPanel';

export const stage = { useTool: () => LOOK_TOOL, Panel: MatchPanel, beside: 'reference' as const };
