import { Suspense, useEffect } from 'react';
import { colorChoice, colorPart } from '../../block-in';
import { someFacesChosen, useFaceChoice } from '../../shared/face-choice';
import { Easel, FloatingBoard, ReferencePane } from '../../easel';
import { type Session, useProject } from '../../project';
import { useColorTaker } from '../../shared/color-taker';
import { isShown, type Panes } from '../../shared/panes';
import { PAINT } from '../../shared/shown';
import { useUi, type StageName } from '../../shared/ui-store';
import { useViewport, useView, Viewport } from '../../viewport';
import { Notes } from './Notes';
import { Columns, toggleColumn } from './Columns';
import { openPictureMenu } from './picture-menu';
import { DraggedColor } from './DraggedColor';
import { PaneChips } from './PaneChips';
import { ShownChips } from './ShownChips';
import { STAGE_TITLES } from '../stage-words';
import { fetchAllStages, useStageRoom } from '../stage-rooms';

interface Props {
  readonly session: Session;
  readonly stage: StageName;
}

/** The three columns of a stage, and the tray below. */
export function StageBody(props: Props) {
  return (
    <Suspense fallback={<div className="body" aria-busy />}>
      <Body {...props} />
    </Suspense>
  );
}

function Body({ session, stage }: Props) {
  const {
    Panel,
    Over,
    Below,
    useMarks,
    isOnLayout = false,
    isPosed = false,
    beside,
    hasOwnChips,
    hidesEasel,
  } = useStageRoom(stage);
  const status = useProject((s) => s.status);
  const panes = useUi((s) => s.panes);
  useEffect(() => {
    const idle = setTimeout(fetchAllStages, 2000);
    return () => clearTimeout(idle);
  }, []);
  // What is looked at belongs to where it was asked for: elsewhere the paint is shown as it is stored.
  useEffect(() => {
    const { panes: before } = useUi.getState();
    const here: Panes =
      beside && !isShown(before, beside) ? { left: 'model', right: beside, split: 0.5 } : before;
    useUi.setState((s) => ({
      aiming: null,
      placing: null,
      picking: false,
      shown: s.shown.of === 'heat' ? PAINT : s.shown,
      light: beside ? 'unlit' : s.light,
      panes: here,
      panesBefore: here === before ? null : before,
    }));
    return () => {
      // What was put beside for this stage goes with it, unless the artist has arranged the panes anew.
      const isAsPut = useUi.getState().panes === here;
      useUi.setState({ panesBefore: null, ...(isAsPut ? { panes: before } : {}) });
    };
  }, [stage, beside]);
  useEffect(() => {
    if (!hidesEasel || useUi.getState().foldedColumns.has('easel')) return;
    toggleColumn('easel');
    return () => {
      if (useUi.getState().foldedColumns.has('easel')) toggleColumn('easel');
    };
  }, [hidesEasel]);
  // A colour that is picked goes to the chosen parts at once.
  const taker = useColorTaker((s) => s.taker);
  const take =
    taker?.take ?? (stage === 'block-in' ? (color: string) => void colorTarget(session, color) : undefined);
  return (
    <>
      <Columns
        easel={<Easel session={session} hideReference={isShown(panes, 'reference')} onTake={take} />}
        middle={
          <Viewport
            session={session}
            isOnLayout={isOnLayout}
            isPosed={isPosed}
            onMenu={(at, hit) => openPictureMenu(stage, at, hit, pictureOrigin())}
          >
            <ReferencePane session={session} onTake={take} />
            <FloatingBoard session={session} onTake={take} />
            {!hasOwnChips && <ShownChips isOnLayout={isOnLayout} />}
            <PaneChips session={session} hasOwnPanes={beside !== undefined} />
            {status === 'opening' && <p className="view-note">Opening the project…</p>}
            {Over && <Over session={session} />}
            <Notes stage={stage} />
          </Viewport>
        }
        side={
          <aside className="side" aria-label={STAGE_TITLES[stage]}>
            <Panel session={session} />
          </aside>
        }
      />
      {Below && <Below session={session} />}
      <DraggedColor session={session} />
      <StageTool key={stage} session={session} stage={stage} />
      {useMarks && <StageMarks key={`marks ${stage}`} useMarks={useMarks} />}
    </>
  );
}

/** A picked colour goes to the chosen faces, or else to the chosen parts. */
const colorTarget = (session: Session, color: string): Promise<void> =>
  someFacesChosen(useFaceChoice.getState()) ? colorChoice(session, color) : colorPart(session, color);

/** Puts the stage's tool into the hand. */
function StageTool({ session, stage }: Props) {
  const viewport = useViewport();
  const { useTool } = useStageRoom(stage);
  const tool = useTool(session);
  useEffect(() => viewport.setTool(tool), [viewport, tool]);
  return null;
}

/** Lights up what the stage has chosen. */
function StageMarks({ useMarks }: { readonly useMarks: () => ReadonlySet<number> }) {
  const view = useView();
  const mesh = useProject((s) => s.mesh);
  const sheets = useProject((s) => s.document?.sheets);
  const marked = useMarks();
  useEffect(() => view?.setChosen(marked), [view, mesh, sheets, marked]);
  useEffect(() => () => view?.setChosen(new Set()), [view]);
  return null;
}

/** Where the picture begins in the window. */
function pictureOrigin(): { readonly left: number; readonly top: number } {
  return document.querySelector('.viewport')!.getBoundingClientRect();
}
