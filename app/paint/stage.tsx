import './tray.css';
import { useMemo } from 'react';
import { BuildUp } from '../build-up';
import type { Session } from '../project';
import { brushTool } from './tools/brush-tool';
import { Tray } from './Tray';

export const stage = {
  useTool: (session: Session) => useMemo(() => brushTool(session), [session]),
  Panel: BuildUp,
  Below: Tray,
};
