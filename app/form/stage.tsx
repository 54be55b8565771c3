import { useMemo } from 'react';
import { BuildUp } from '../build-up';
import type { Session } from '../project';
import { useUi } from '../shared/ui-store';
import { LOOK_TOOL, type ToolMaker } from '../viewport';
import { FormBar } from './FormBar';
import { Shelf } from './Shelf';
import { lightTool } from './tools/light-tool';

function useFormTool(session: Session): ToolMaker {
  const aims = useUi((s) => s.aiming === 'plan');
  return useMemo(() => (aims ? lightTool(session) : LOOK_TOOL), [aims, session]);
}

export const stage = { useTool: useFormTool, Panel: BuildUp, Over: FormBar, Below: Shelf };
