import './unwrap.css';
import { useMemo } from 'react';
import type { Session } from '../project';
import { useLayout } from '../shared/layout-store';
import type { ToolMaker } from '../viewport';
import { islandTool } from './tools/island-tool';
import { seamTool } from './tools/seam-tool';
import { UnwrapPanel } from './UnwrapPanel';

function useUnwrapTool(session: Session): ToolMaker {
  const isOnIslands = useLayout((s) => s.tool === 'island');
  return useMemo(() => (isOnIslands ? islandTool(session) : seamTool(session)), [isOnIslands, session]);
}

export const stage = {
  useTool: useUnwrapTool,
  Panel: UnwrapPanel,
  useMarks: () => useLayout((s) => s.chosen),
  isOnLayout: true,
};
