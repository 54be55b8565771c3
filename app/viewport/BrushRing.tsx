import { brushInHand, useUi } from '../shared/ui-store';

/** The brush's reach: the outer ring where it ends, the inner one where it covers fully. */
export function BrushRing({ x, y }: { readonly x: number; readonly y: number }) {
  const brush = useUi(brushInHand);
  const r = Math.max(1, brush.size / 2);
  const inner = r * (1 - brush.edge);
  return (
    <svg
      className="brush-ring"
      style={{ left: x - r - 2, top: y - r - 2 }}
      width={r * 2 + 4}
      height={r * 2 + 4}
      aria-hidden
    >
      <circle cx={r + 2} cy={r + 2} r={r} className="dark" />
      <circle cx={r + 2} cy={r + 2} r={r} className={brush.erase ? 'light dashed' : 'light'} />
      {inner > 3 && inner < r - 2 && <circle cx={r + 2} cy={r + 2} r={inner} className="light faint" />}
    </svg>
  );
}
