import type { StageView } from '../view/stage-view';

/** A closed line that is being drawn, in pixels of its pane. */
export interface Drawn {
  readonly pane: 'model' | 'sheet';
  readonly points: readonly (readonly [number, number])[];
}

export function DrawnLine({ view, line }: { readonly view: StageView; readonly line: Drawn | null }) {
  const pane = line && view.pane(line.pane);
  if (!line || !pane) return null;
  return (
    <svg className="drawn-line" style={{ left: pane.x }} width={pane.width} height={pane.height} aria-hidden>
      <polygon points={line.points.map((p) => p.join()).join(' ')} />
    </svg>
  );
}
