import { CaretLeftIcon } from '@phosphor-icons/react/dist/csr/CaretLeft';
import { CaretRightIcon } from '@phosphor-icons/react/dist/csr/CaretRight';
import { useEffect, type ReactNode, type RefObject } from 'react';
import { Group, Panel, Separator, usePanelRef, type PanelImperativeHandle } from 'react-resizable-panels';
import { useCommandBook } from '../../shared/commands';
import { useUi } from '../../shared/ui-store';

/** Narrower than this, the easel begins folded, CSS pixels. */
const NARROW = 900;

/** How wide a column may be dragged. */
const LEAST = 168;
const MOST = 560;

interface Props {
  readonly easel: ReactNode;
  readonly middle: ReactNode;
  readonly side: ReactNode;
}

/** The three columns of a stage: the outer ones are dragged wider, and fold. */
export function Columns({ easel, middle, side }: Props) {
  const panels = { easel: usePanelRef(), side: usePanelRef() };
  /** Only what the hand did: the window's size moves them too, for a moment. */
  const keep = (): void => {
    const widths = { ...useUi.getState().columns };
    for (const name of ['easel', 'side'] as const) {
      const width = Math.round(panels[name].current?.getSize().inPixels ?? 0);
      if (width > 0) widths[name] = width;
    }
    useUi.setState({ columns: widths });
  };
  return (
    <Group className="body" onLayoutChanged={(_, { isUserInteraction }) => isUserInteraction && keep()}>
      <Column name="easel" panel={panels.easel}>
        {easel}
      </Column>
      <Separator className="column-border" aria-label="Width of the easel" />
      <Panel id="middle" minSize={200} className="middle">
        {middle}
        <Fold name="easel" />
        <Fold name="side" />
      </Panel>
      <Separator className="column-border" aria-label="Width of the side column" />
      <Column name="side" panel={panels.side}>
        {side}
      </Column>
    </Group>
  );
}

function Column({
  name,
  panel,
  children,
}: {
  readonly name: 'easel' | 'side';
  readonly panel: RefObject<PanelImperativeHandle | null>;
  readonly children: ReactNode;
}) {
  const width = useUi((s) => s.columns[name]);
  const folded = useUi((s) => s.foldedColumns.has(name));
  useEffect(() => {
    if (name === 'easel' && window.innerWidth < NARROW) fold(name, true);
  }, [name]);
  useEffect(() => {
    if (folded) panel.current?.collapse();
    else panel.current?.expand();
  }, [folded, panel]);
  return (
    <Panel
      id={name}
      panelRef={panel}
      defaultSize={width}
      minSize={LEAST}
      maxSize={MOST}
      collapsible
      collapsedSize={0}
      groupResizeBehavior="preserve-pixel-size"
      className="column"
      onResize={({ inPixels }, _, before) => {
        if (!before) return;
        const isFolded = inPixels < 1;
        if (isFolded !== useUi.getState().foldedColumns.has(name)) fold(name, isFolded);
      }}
    >
      {/* What is folded can't be reached by Tab. */}
      {!folded && children}
    </Panel>
  );
}

function fold(name: 'easel' | 'side', isFolded: boolean): void {
  useUi.setState(({ foldedColumns }) => {
    const next = new Set(foldedColumns);
    if (isFolded) next.add(name);
    else next.delete(name);
    return { foldedColumns: next };
  });
}

function Fold({ name }: { readonly name: 'easel' | 'side' }) {
  const folded = useUi((s) => s.foldedColumns.has(name));
  const { keysOf } = useCommandBook();
  const says = `${folded ? 'Open' : 'Fold'} the ${name === 'easel' ? 'easel' : 'side column'}`;
  const pointsLeft = (name === 'easel') !== folded;
  const keys = keysOf(`fold-${name}`);
  return (
    <button
      type="button"
      className={`fold-column ${name === 'easel' ? 'at-left' : 'at-right'}`}
      aria-label={says}
      aria-expanded={!folded}
      title={keys ? `${says} (${keys})` : says}
      onClick={() => fold(name, !folded)}
    >
      {pointsLeft ? <CaretLeftIcon size={11} /> : <CaretRightIcon size={11} />}
    </button>
  );
}

export const toggleColumn = (name: 'easel' | 'side'): void =>
  fold(name, !useUi.getState().foldedColumns.has(name));
