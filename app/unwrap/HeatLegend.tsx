import { useMemo } from 'react';
import { HEATS, layoutHeat } from '../../core/unwrap';
import { useProject } from '../project';
import { useUi } from '../shared/ui-store';

/** What the colours of a distortion look stand for. */
export function HeatLegend() {
  const look = useUi((s) => s.look);
  const mesh = useProject((s) => s.mesh);
  const sheets = useProject((s) => s.document?.sheets);
  const kind = HEATS.find((h) => h === look);
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
    <figure className={`heat-legend ${kind}`} aria-label={`Scale of ${kind}`}>
      <i aria-hidden />
      <figcaption>
        {legend.map((words) => (
          <span key={words}>{words}</span>
        ))}
      </figcaption>
    </figure>
  );
}
