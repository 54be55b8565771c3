import { useFaceChoice } from '../../shared/face-choice';
import type { StageView } from '../../viewport';

/** The line that is being drawn around faces. */
export function DrawnLine({ view }: { readonly view: StageView }) {
  const line = useFaceChoice((s) => s.line);
  const pane = line && view.pane(line.pane);
  if (!line || !pane) return null;
  return (
    <svg className="drawn-line" style={{ left: pane.x }} width={pane.width} height={pane.height} aria-hidden>
      <polygon points={line.points.map((p) => p.join()).join(' ')} />
    </svg>
  );
}
