import { useMemo } from 'react';
import { layoutHeat } from '../../core/unwrap';
import { useProject } from '../project';
import { heatGradient } from '../shared/heat-colors';
import { useUi } from '../shared/ui-store';

/** What the colours of a distortion look stand for. */
export function HeatLegend() {
  const kind = useUi((s) => (s.shown.of === 'heat' ? s.shown.heat : null));
  const mesh = useProject((s) => s.mesh);
  const sheets = useProject((s) => s.document?.sheets);
  const legend = useMemo(
    () =>
      kind && mesh && sheets
        ? layoutHeat(
            mesh,
            kind,
            sheets.map((s) => s.size),
          ).legend
        : null,
    [kind, mesh, sheets],
  );
  if (!kind || !legend) return null;
  return (
    <figure className="heat-legend" aria-label={`Scale of ${kind}`}>
      <i aria-hidden style={{ backgroundImage: heatGradient(kind !== 'angle') }} />
      <figcaption>
        {legend.map((words) => (
          <span key={words}>{words}</span>
        ))}
      </figcaption>
    </figure>
  );
}
