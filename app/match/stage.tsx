import './compare/match-pane.css';
import './match-panel.css';
import './compare/match-looks.css';
import { useMemo } from 'react';
import type { Session } from '../project';
import { LOOK_TOOL, type ToolMaker } from '../viewport';
import { LooksTray } from './compare/LooksTray';
import { MatchOver } from './compare/MatchOver';
import { MatchPanel } from './MatchPanel';
import { matchTool } from './camera/match-tool';
import { useMatch } from './match-ui';

function useMatchTool(session: Session): ToolMaker {
  const isPlacing = useMatch((s) => s.tool === 'pairs' || s.tool === 'spans');
  return useMemo(() => (isPlacing ? matchTool(session) : LOOK_TOOL), [isPlacing, session]);
}

export const stage = {
  useTool: useMatchTool,
  Panel: MatchPanel,
  Over: MatchOver,
  Below: LooksTray,
  beside: 'match' as const,
  hasOwnChips: true,
  hidesEasel: true,
};
