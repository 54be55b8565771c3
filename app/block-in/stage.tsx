import './block-in.css';
import { useMemo } from 'react';
import { BuildUp } from '../build-up';
import type { Session } from '../project';
import { useFaceChoice } from '../shared/face-choice';
import { partTool } from '../viewport';
import { ChoiceBar } from './ChoiceBar';
import { PartColor } from './PartColor';
import { faceTool } from './tools/face-tool';
import { floodTool } from './tools/flood-tool';

function useBlockInTool(session: Session) {
  const tool = useFaceChoice((s) => s.tool);
  return useMemo(() => {
    if (tool === 'like') return floodTool(session);
    return tool === 'part' ? partTool : faceTool;
  }, [tool, session]);
}

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
  useMarks: () => useFaceChoice((s) => s.faces),
};
