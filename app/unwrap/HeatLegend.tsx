import { useForm, useProject } from '../project';
import { heatGradient } from '../shared/heat-colors';
import { useLayoutHeat } from '../shared/layout-heat';
import { useUi } from '../shared/ui-store';

/** What the colours of a distortion look stand for. */
export function HeatLegend() {
  const kind = useUi((s) => (s.shown.of === 'heat' ? s.shown.heat : null));
  const mesh = useForm();
  const sheets = useProject((s) => s.document?.sheets);
  const sizes = (sheets ?? []).map((s) => s.size);
  const legend = useLayoutHeat(mesh, kind, sizes)?.legend;
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
