import './form.css';
import { useMemo } from 'react';
import { BuildUp } from '../build-up';
import type { Session } from '../project';
import { useUi } from '../shared/ui-store';
import { LOOK_TOOL, PoseStrip, type ToolMaker } from '../viewport';
import { FormBar } from './FormBar';
import { Shelf } from './Shelf';
import { lightTool } from './tools/light-tool';
import { placeTool } from './tools/place-tool';
import { RampHandles } from './tools/RampHandles';
import { StandInHandles } from './tools/StandInHandles';
import { rampTool } from './tools/ramp-tool';

/** Every press moves the view, but on the handles of the chosen ramp. */
const restTool =
  (session: Session): ToolMaker =>
  (view) => ({
    ...LOOK_TOOL(view),
    leave: () => {
      if (!useUi.getState().standIn) return false;
      useUi.setState({ standIn: null });
      return true;
    },
    overlay: () => (
      <>
        <RampHandles session={session} view={view} />
        <StandInHandles session={session} view={view} />
      </>
    ),
  });

function useFormTool(session: Session): ToolMaker {
  const aiming = useUi((s) => s.aiming);
  const placing = useUi((s) => s.placing);
  return useMemo(() => {
    if (placing) return placeTool(session, placing);
    if (aiming === 'plan') return lightTool(session);
    return aiming === 'ramp' ? rampTool(session) : restTool(session);
  }, [aiming, placing, session]);
}

/** The pose, and the recipes under it. What is placed or aimed on the model is so at rest. */
function FormBench({ session }: { readonly session: Session }) {
  const isSet = useUi((s) => s.placing !== null || s.aiming !== null || s.standIn !== null);
  return (
    <>
      <PoseStrip session={session} note={isSet ? 'Set at rest.' : null} />
      <Shelf session={session} />
    </>
  );
}

export const stage = {
  useTool: useFormTool,
  Panel: BuildUp,
  Over: FormBar,
  Below: FormBench,
  isPosed: true,
};
