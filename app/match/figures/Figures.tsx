import type { MatchReport } from '../../../core/match';

/** Four figures that tell the distance at one look. */
export function Figures({ report, isStale }: { readonly report: MatchReport; readonly isStale: boolean }) {
  const { deltaE, silhouette, lightAll } = report;
  const figures = [
    [
      deltaE.mean.toFixed(1),
      'ΔE, mean',
      'CIEDE2000 between paint and reference, over all that both show, after aligning by a few pixels',
    ],
    [deltaE.p95.toFixed(1), 'worst twentieth', 'Nineteen of twenty pixels are nearer than this, CIEDE2000'],
    [
      `${(silhouette.iou * 100).toFixed(0)} %`,
      'silhouette',
      'What both silhouettes cover, of what either does',
    ],
    [
      lightAll.degrees === null ? '–' : `${lightAll.degrees.toFixed(0)}°`,
      'light apart',
      'Between the directions that the paint and the reference are lit from',
    ],
  ] as const;
  return (
    <dl className={`match-figures${isStale ? ' stale' : ''}`} data-testid="figures">
      {figures.map(([value, name, says]) => (
        <div key={name} title={says}>
          <dd>{value}</dd>
          <dt>{name}</dt>
        </div>
      ))}
    </dl>
  );
}
