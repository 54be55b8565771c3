import { findNode } from '../../core/engine';
import { useMemo } from 'react';
import type { Projection } from '../../core/unwrap';
import { colorPart, PartColor } from '../block-in';
import { BuildUp } from '../build-up';
import { DeliverPanel } from '../deliver';
import { Easel, ReferenceView } from '../easel';
import { FormBar } from '../form';
import { MatchPanel } from '../match';
import { ModelPanel } from '../model';
import { Tray } from '../paint';
import { type Session, useActiveSheet, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { replaceModel } from './replace-model';
import { useLayout, type LayoutTool } from '../shared/layout-store';
import { isLayoutLook, LOOKS, type Look } from '../shared/looks';
import { useUi, type StageName } from '../shared/ui-store';
import { hoverSeam, moveChosen, pickLayout, UnwrapPanel } from '../unwrap';
import { activeView, linkZoom, Viewport, type LayoutActions, type Tool } from '../viewport';

const LOOK_WORDS: Record<Look, readonly [name: string, says: string]> = {
  unlit: ['Unlit', 'The colours exactly as they are stored'],
  lit: ['Lit check', 'The paint under a plain lamp: does it follow the form?'],
  values: ['Values', 'Only how light or dark it is'],
  checker: ['Checker', 'Even squares with letters on the sheet'],
  density: ['Density', 'How many texels a place has, against the mean'],
  area: ['Areas', 'How areas are kept within an island'],
  angle: ['Angles', 'How angles are kept'],
};

function toolOf(stage: StageName, picking: boolean, aiming: boolean, layoutTool: LayoutTool): Tool {
  if (picking) return 'color';
  if (stage === 'paint') return 'paint';
  if (stage === 'unwrap') return layoutTool === 'island' ? 'island' : 'seam';
  if (stage === 'block-in' || stage === 'model') return 'part';
  if (stage === 'form' && aiming) return 'light';
  return 'look';
}

/** Right and up of the present view, for a projection from it. */
function viewAxes(): Projection {
  const [right, up] = activeView()?.axes() ?? [
    [1, 0, 0],
    [0, 1, 0],
  ];
  return { kind: 'plane', right, up };
}

/** The three columns of a stage, and the tray below. */
export function StageBody({ session, stage }: { readonly session: Session; readonly stage: StageName }) {
  const status = useProject((s) => s.status);
  const picking = useUi((s) => s.picking);
  const aiming = useUi((s) => s.aimingLight);
  const isMatch = stage === 'match';
  const layoutTool = useLayout((s) => s.tool);
  const layout = useMemo(
    (): LayoutActions => ({
      pick: (place, add) => pickLayout(session, place, add),
      hover: hoverSeam,
      move: (label, move) => void moveChosen(session, label, move),
    }),
    [session],
  );
  const frame = (part: number | null): void => activeView()?.frame(part);
  return (
    <>
      <main className={isMatch ? 'body matching' : 'body'}>
        <Easel
          session={session}
          hideReference={isMatch}
          {...(stage === 'block-in' ? { onTake: (color: string) => colorPart(session, color) } : {})}
        />
        <div className="stage-area">
          <Viewport
            session={session}
            tool={toolOf(stage, picking, aiming, layoutTool)}
            modelOnly={isMatch}
            marks={stage === 'unwrap' || stage === 'model'}
            {...(stage === 'unwrap' ? { layout } : {})}
          >
            <Looks layout={stage === 'unwrap'} />
            <Views modelOnly={isMatch} />
            {status === 'opening' && <p className="view-note">Opening the project…</p>}
            {stage === 'block-in' && <PartColor session={session} />}
            {stage === 'form' && <FormBar />}
          </Viewport>
          {isMatch && (
            <div className="match-reference">
              <ReferenceView
                project={session.project}
                onZoom={(x, y, factor) => linkZoom.fromReference({ x, y, factor })}
                attach={attachReference}
              />
            </div>
          )}
        </div>
        <aside className="side" aria-label={stage}>
          {stage === 'model' && (
            <ModelPanel
              session={session}
              onFrame={frame}
              onShow={(faces) => activeView()?.frameFaces(faces)}
              onReplace={() => void replaceModel(session)}
            />
          )}
          {stage === 'unwrap' && <UnwrapPanel session={session} viewAxes={viewAxes} />}
          {isMatch && <MatchPanel />}
          {stage === 'deliver' && <DeliverPanel session={session} />}
          {(stage === 'block-in' || stage === 'form' || stage === 'paint') && <BuildUp session={session} />}
        </aside>
      </main>
      {stage === 'paint' && <Tray />}
    </>
  );
}

const attachReference: NonNullable<Parameters<typeof ReferenceView>[0]['attach']> = (reference) =>
  linkZoom.attachReference(reference);

/** How the model pane shows the paint. */
function Looks({ layout }: { readonly layout: boolean }) {
  const look = useUi((s) => s.look);
  const alone = useUi((s) => s.alone);
  const maskOf = useUi((s) => s.maskOf);
  const name = useProject((s) => findNode(s.document?.layers ?? [], maskOf ?? alone ?? -1)?.name);
  return (
    <div className="view-chips left" role="group" aria-label="How the paint is shown">
      {LOOKS.filter((l) => layout || !isLayoutLook(l) || l === 'checker').map((l) => (
        <Chip key={l} on={look === l} title={LOOK_WORDS[l][1]} onClick={() => useUi.setState({ look: l })}>
          {LOOK_WORDS[l][0]}
        </Chip>
      ))}
      {name && (
        <Chip
          on
          title="Back to the whole build-up"
          onClick={() => useUi.setState({ alone: null, maskOf: null })}
        >
          {maskOf === null ? 'Alone' : 'Mask'}: {name} ×
        </Chip>
      )}
    </div>
  );
}

/** From where the model is seen, and what is shown beside it. */
function Views({ modelOnly }: { readonly modelOnly: boolean }) {
  const panes = useUi((s) => s.panes);
  const sheets = useProject((s) => s.document?.sheets) ?? [];
  const shown = useActiveSheet()?.index;
  return (
    <div className="view-chips lower" role="group" aria-label="View">
      {(['front', 'side', 'top', 'free'] as const).map((v) => (
        <Chip
          key={v}
          title={v === 'free' ? 'Three-quarter view with perspective' : `From the ${v}, without perspective`}
          onClick={() => activeView()?.look(v)}
        >
          {v[0]!.toUpperCase() + v.slice(1)}
        </Chip>
      ))}
      <Chip title="Show the whole model" onClick={() => activeView()?.frame(null)}>
        Frame
      </Chip>
      {!modelOnly && (
        <>
          <span className="gap" />
          {(
            [
              ['model', 'Model'],
              ['both', 'Model and sheet'],
              ['sheet', 'Sheet'],
            ] as const
          ).map(([p, title]) => (
            <Chip key={p} on={panes === p} onClick={() => useUi.setState({ panes: p })}>
              {title}
            </Chip>
          ))}
          {panes !== 'model' && sheets.length > 1 && <span className="gap" />}
          {panes !== 'model' &&
            sheets.length > 1 &&
            sheets.map(({ name }, i) => (
              <Chip
                key={i}
                on={shown === i}
                title="Show this sheet"
                onClick={() => useUi.setState({ sheet: i })}
              >
                {name}
              </Chip>
            ))}
        </>
      )}
    </div>
  );
}
