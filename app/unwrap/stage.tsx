import './unwrap.css';
import { useMemo } from 'react';
import type { Session } from '../project';
import { useLayout } from '../shared/layout-store';
import type { ToolMaker } from '../viewport';
import { islandTool } from './tools/island-tool';
import { seamTool } from './tools/seam-tool';
import { slideTool } from './tools/slide-tool';
import { wishTool } from './tools/wish-tool';
import { UnwrapPanel } from './UnwrapPanel';

const TOOLS = {
  island: islandTool,
  seam: seamTool,
  loop: seamTool,
  edge: seamTool,
  slide: slideTool,
  wish: wishTool,
} as const;

function useUnwrapTool(session: Session): ToolMaker {
  const kind = useLayout((s) => TOOLS[s.tool]);
  return useMemo(() => kind(session), [kind, session]);
}

export const stage = {
  useTool: useUnwrapTool,
  Panel: UnwrapPanel,
  useMarks: () => useLayout((s) => s.chosen),
  isOnLayout: true,
};
