import { useEffect, useRef, type RefObject } from 'react';
import { type Session, useActiveSheet, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { useTip } from '../../shared/commands';
import { besidePane, isShown, onlyPane, PANE_KINDS, swapPanes } from '../../shared/panes';
import { useUi } from '../../shared/ui-store';
import { useView } from '../../viewport';
import { CameraMenu } from './CameraMenu';

const PANE_TITLES = { model: 'Model', sheet: 'Sheet', reference: 'Reference' } as const;
const VIEWS = { front: 'Front', side: 'Side', top: 'Top', free: 'Free' } as const;

/** Tells the picture how high the chips along its lower edge stand, in one row or more: what lies over it begins above them. */
function useFoot(): RefObject<HTMLDivElement | null> {
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = row.current;
    if (!element) return;
    const tell = (): void =>
      element.parentElement?.style.setProperty('--foot', `${Math.round(element.offsetHeight)}px`);
    tell();
    const sizes = new ResizeObserver(tell);
    sizes.observe(element);
    return () => sizes.disconnect();
  }, []);
  return row;
}

/** From where the model is seen, and what stands in the middle: along the picture's lower edge. */
export function PaneChips({
  session,
  hasOwnPanes,
}: {
  readonly session: Session;
  /** The stage itself says what stands in the middle. */
  readonly hasOwnPanes: boolean;
}) {
  const panes = useUi((s) => s.panes);
  const sheets = useProject((s) => s.document?.sheets) ?? [];
  const shown = useActiveSheet()?.index;
  const view = useView();
  const tip = useTip();
  const row = useFoot();
  return (
    <div ref={row} className="view-chips lower" role="group" aria-label="View">
      {(['front', 'side', 'top', 'free'] as const).map((v) => (
        <Chip
          key={v}
          title={tip(
            v === 'free' ? 'Three-quarter view with perspective' : `From the ${v}, without perspective`,
            v,
          )}
          onClick={() => view?.camera.look(v)}
        >
          {VIEWS[v]}
        </Chip>
      ))}
      <Chip title={tip('Frame the whole model', 'frame')} onClick={() => view?.camera.frame(null)}>
        Frame
      </Chip>
      <CameraMenu session={session} />
      <span className="gap" />
      {isShown(panes, 'sheet') &&
        sheets.length > 1 &&
        sheets.map(({ name }, i) => (
          <Chip key={i} on={shown === i} title="Show this sheet" onClick={() => useUi.setState({ sheet: i })}>
            {name}
          </Chip>
        ))}
      {!hasOwnPanes && <PaneChoice />}
    </div>
  );
}

/** What stands in the middle, alone or side by side. */
function PaneChoice() {
  const panes = useUi((s) => s.panes);
  const tip = useTip();
  return (
    <>
      <span className="pane-choice" role="group" aria-label="Panes">
        {PANE_KINDS.map((kind) => (
          <Chip
            key={kind}
            on={panes.left === kind}
            title={tip(`The ${kind} takes the whole middle`, `pane-${kind}`)}
            onClick={() => useUi.setState({ panes: onlyPane(panes, kind) })}
          >
            {PANE_TITLES[kind]}
          </Chip>
        ))}
      </span>
      <span className="pane-choice" role="group" aria-label="Beside it">
        {PANE_KINDS.filter((kind) => kind !== panes.left).map((kind) => (
          <Chip
            key={kind}
            on={panes.right === kind}
            title={tip(`The ${kind} beside it, or not`, `beside-${kind}`)}
            onClick={() => useUi.setState({ panes: besidePane(panes, kind) })}
          >
            + {PANE_TITLES[kind]}
          </Chip>
        ))}
        {panes.right !== null && (
          <Chip
            title={tip('Swap left and right', 'panes-swap')}
            onClick={() => useUi.setState({ panes: swapPanes(panes) })}
          >
            ⇄
          </Chip>
        )}
      </span>
    </>
  );
}
