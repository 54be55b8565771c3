import type { Session } from '../project';
import { isShown } from '../shared/panes';
import { useUi } from '../shared/ui-store';
import { useViewport } from '../viewport';
import { Board } from './Board';

/** The board in the middle, as large as the model beside it. */
export function ReferencePane({
  session,
  onTake,
}: {
  readonly session: Session;
  readonly onTake?: ((color: string) => void) | undefined;
}) {
  const viewport = useViewport();
  const panes = useUi((s) => s.panes);
  const arranges = useUi((s) => s.arrangesBoard);
  if (!isShown(panes, 'reference')) return null;
  const [from, to] =
    panes.right === null ? [0, 1] : panes.left === 'reference' ? [0, panes.split] : [panes.split, 1];
  return (
    <div className="reference-pane" style={{ left: `${from * 100}%`, right: `${(1 - to) * 100}%` }}>
      <Board
        session={session}
        onTake={onTake}
        arranges={arranges}
        onZoom={({ x, y }, factor) => viewport.link.fromReference({ x, y, factor })}
        attach={viewport.link.attachReference}
      />
    </div>
  );
}
