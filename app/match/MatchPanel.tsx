import { useReferenceUrl } from '../easel';
import { type Session, useMatchView, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook } from '../shared/commands';
import { Fold } from '../shared/Fold';
import { useUi } from '../shared/ui-store';
import { AdviceList } from './figures/AdviceList';
import { AreaTable } from './figures/AreaTable';
import { BendFacts } from './figures/BendFacts';
import { CameraSection } from './camera/CameraSection';
import { matchOf } from './camera/camera-actions';
import { EdgeFacts, LightFacts, OutlineFacts } from './figures/Facts';
import { Figures } from './figures/Figures';
import { FromReference } from './figures/FromReference';
import { MaskSection } from './camera/MaskSection';
import { useMatch } from './match-ui';
import { PalettePairs } from './figures/PalettePairs';
import { SpanSection } from './camera/SpanSection';
import { UnderPointer } from './compare/UnderPointer';
import { useChosenMatch } from './use-chosen-match';
import { ValueChart } from './figures/ValueChart';

/** The distance to the reference: what would help most first, then figures, then all the rest folded away. */
export function MatchPanel({ session }: { readonly session: Session }) {
  const reference = useChosenMatch();
  const { report, problem, isStale, busy } = useMatchView();
  const isTrying = useMatch((s) => s.isTrying);
  const isPairing = useMatch((s) => s.tool === 'pairs');
  const { run } = useCommandBook();
  if (!reference) {
    return (
      <section className="panel match" aria-label="Match">
        <h2>Match</h2>
        <p className="hint-line">
          There is no reference yet. Add the picture that the model shall look like; then how far the paint is
          from it is measured here.
        </p>
        <div className="row">
          <Chip primary onClick={() => run('reference-add')}>
            Add a reference…
          </Chip>
        </div>
        <UnderPointer />
      </section>
    );
  }
  const match = matchOf(reference);
  return (
    <section className="panel match" aria-label="Match" aria-busy={isStale || isTrying || busy > 0}>
      <ReferenceChoice session={session} />
      {problem && match.camera && (
        <p className="match-problem" role="alert">
          {problem}
        </p>
      )}
      {(!match.camera || isPairing) && <CameraSection session={session} reference={reference} />}
      {report && (
        <>
          <AdviceList session={session} report={report} />
          <Figures report={report} isStale={isStale} />
          <ValueChart report={report} />
          <PalettePairs pairs={report.palette} />
          <div className="row">
            <Chip
              title="All of it on one page, with the looks that were kept"
              onClick={() => useMatch.setState({ page: true })}
            >
              One page…
            </Chip>
          </div>
          <Fold title="Parts and regions" note={`${report.parts.length + report.regions.length}`}>
            <AreaTable session={session} report={report} />
          </Fold>
          <Fold title="Outline" note={`${(report.silhouette.iou * 100).toFixed(1)} %`}>
            <OutlineFacts report={report} />
          </Fold>
          {match.how === 'drawn' && (
            <Fold title="What the drawing bends">
              <BendFacts report={report} />
            </Fold>
          )}
          <Fold title="Proportions" note={report.spans.length > 0 ? String(report.spans.length) : ''}>
            <SpanSection session={session} report={report} />
          </Fold>
          <Fold
            title="Light"
            note={report.lightAll.degrees === null ? '' : `${report.lightAll.degrees.toFixed(0)}° apart`}
          >
            <LightFacts session={session} report={report} />
          </Fold>
          <Fold title="Colour and edges">
            <EdgeFacts report={report} />
          </Fold>
          <Fold title="From reference to paint">
            <FromReference session={session} />
          </Fold>
        </>
      )}
      {match.camera && !isPairing && (
        <Fold title="Camera" note={match.pairs.length > 0 ? `${match.pairs.length} pairs` : match.how}>
          <CameraSection session={session} reference={reference} />
        </Fold>
      )}
      <Fold title="What belongs to the model" note={match.mask.length > 0 ? 'mended' : ''}>
        <MaskSection session={session} reference={reference} />
      </Fold>
      <Fold title="Colour under the pointer">
        <UnderPointer />
      </Fold>
    </section>
  );
}

function ReferenceChoice({ session }: { readonly session: Session }) {
  const references = useProject((s) => s.document?.references) ?? [];
  const chosen = useChosenMatch();
  const url = useReferenceUrl(session.project, chosen?.id ?? null);
  const { run } = useCommandBook();
  return (
    <h2 className="match-head">
      What would help most
      <span>
        {url && <img src={url} alt="" />}
        {references.length > 1 ? (
          <select
            aria-label="Against which reference"
            value={chosen?.id}
            onChange={(e) => useUi.setState({ reference: Number(e.target.value) })}
          >
            {references.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        ) : (
          `against “${chosen?.name ?? ''}”`
        )}
        <Chip
          aria-label="Add another reference"
          title="Add another reference"
          onClick={() => run('reference-add')}
        >
          +
        </Chip>
      </span>
    </h2>
  );
}
