import './block-in.css';
import { useMemo } from 'react';
import { BuildUp } from '../build-up';
import type { Session } from '../project';
import { useFaceChoice } from '../shared/face-choice';
import { partTool, type ToolMaker } from '../viewport';
import { ChoiceBar } from './ChoiceBar';
import { PartColor } from './PartColor';
import { useRampHand } from './ramps/ramp-hand';
import { RampTray } from './ramps/RampTray';
import { RunHandles } from './ramps/RunHandles';
import { runTool } from './ramps/run-tool';
import { faceTool } from './tools/face-tool';
import { floodTool } from './tools/flood-tool';

function useBlockInTool(session: Session) {
  const tool = useFaceChoice((s) => s.tool);
  const aims = useRampHand((s) => s.aims);
  return useMemo(() => {
    if (aims) return runTool(session);
    if (tool === 'like') return floodTool(session);
    return withRunHandles(session, tool === 'part' ? partTool : faceTool);
  }, [aims, tool, session]);
}

/** A tool with the handles of the run in hand over the picture. */
const withRunHandles =
  (session: Session, maker: ToolMaker): ToolMaker =>
  (view) => {
    const tool = maker(view);
    return {
      ...tool,
      overlay: () => (
        <>
          {tool.overlay?.()}
          <RunHandles session={session} view={view} />
        </>
      ),
    };
  };

function Over({ session }: { readonly session: Session }) {
  const isOnParts = useFaceChoice((s) => s.tool === 'part');
  return (
    <div className="over-picture">
      <ChoiceBar />
      {isOnParts && <PartColor session={session} />}
    </div>
  );
}

export const stage = {
  useTool: useBlockInTool,
  Panel: BuildUp,
  Over,
  Below: RampTray,
  useMarks: () => useFaceChoice((s) => s.faces),
};
