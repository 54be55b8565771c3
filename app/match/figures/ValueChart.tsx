import { lazy, Suspense } from 'react';
import type { MatchReport } from '../../../core/match';
import { Chip } from '../../shared/Chip';
import { useMatch } from '../match-ui';

/** Charts are fetched when they are first seen. */
const ValueCurves = lazy(() => import('./ValueCurves'));

/** Values of both as curves, and their groups in words. */
export function ValueChart({
  report,
  height = 76,
}: {
  readonly report: MatchReport;
  readonly height?: number;
}) {
  const sums = useMatch((s) => s.cumulative);
  return (
    <section className="match-section">
      <h3>
        Values <span>reference line, paint filled</span>
      </h3>
      <Suspense fallback={<div style={{ height }} />}>
        <ValueCurves values={report.values} sums={sums} height={height} />
      </Suspense>
      <p className="hint-line">
        {groupWords(report)}{' '}
        <Chip
          on={sums}
          title="Shares up to each lightness"
          onClick={() => useMatch.setState({ cumulative: !sums })}
        >
          Summed up
        </Chip>
      </p>
    </section>
  );
}

/** How many groups of values there are, and how far apart. */
export function groupWords({ groups }: MatchReport): string {
  const words = (of: readonly { readonly L: number }[]): string =>
    of.length === 0 ? 'none' : of.map(({ L }) => L.toFixed(0)).join(', ');
  const [r, m] = [groups.reference, groups.model];
  const count = (n: number): string => `${n} ${n === 1 ? 'group' : 'groups'}`;
  if (r.length === m.length) return `${count(r.length)}: ${words(m)}, in the reference ${words(r)}.`;
  return `${count(m.length)} (${words(m)}) where the reference has ${r.length} (${words(r)}).`;
}
