import { lazy, Suspense, useEffect, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { useReferenceUrl } from '../../easel';
import { type Session, useMatchView, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { AreaTable } from './AreaTable';
import { bitmapsOf } from '../compare/draw-looks';
import { EdgeFacts, LightFacts, OutlineFacts } from './Facts';
import { Figures } from './Figures';
import { lookWords, useLookUrl } from '../compare/LooksTray';
import { useMatch } from '../match-ui';
import { PalettePairs } from './PalettePairs';
import { useChosenMatch } from '../use-chosen-match';
import { ValueChart } from './ValueChart';
import type { Look } from '../../../core/document';

const Course = lazy(() => import('./Course'));

/** All that was measured on one page: what would help most first, both pictures, and the looks that were kept. */
export function OnePage({ session }: { readonly session: Session }) {
  const reference = useChosenMatch();
  const report = useMatchView((s) => s.report);
  const looks = useProject((s) => s.document?.looks) ?? [];
  const url = useReferenceUrl(session.project, reference?.id ?? null);
  const painted = usePainted(session);
  const close = (): void => useMatch.setState({ page: false });
  if (!report || !reference) return null;
  const own = looks.filter((l) => l.match?.reference === reference.id);
  return (
    <Modal show onHide={close} fullscreen aria-labelledby="match-page" className="match-page">
      <div className="page-body">
        <header>
          <h1 id="match-page">How far it is from “{reference.name}”</h1>
          <div className="row">
            <Chip onClick={() => window.print()}>Print…</Chip>
            <Chip primary onClick={close}>
              Close
            </Chip>
          </div>
        </header>
        <section className="page-top">
          <ol className="page-advice">
            {report.advice.slice(0, 6).map((a) => (
              <li key={a.title}>
                <b>{a.title}</b> <small>{a.detail}</small>
              </li>
            ))}
            {report.advice.length === 0 && <li>Nothing stands out.</li>}
          </ol>
          <Figures report={report} isStale={false} />
        </section>
        <section className="page-pictures">
          <figure>
            {url && <img src={url} alt={reference.name} />}
            <figcaption>Reference</figcaption>
          </figure>
          <figure>
            {painted ? <img src={painted} alt="The painting" /> : <p className="page-waits">Comparing…</p>}
            <figcaption>Painting, through the same camera</figcaption>
          </figure>
        </section>
        <section className="page-columns">
          <div>
            <ValueChart report={report} height={120} />
            <PalettePairs pairs={report.palette} />
            <h3>Outline</h3>
            <OutlineFacts report={report} />
            {report.spans.length > 0 && (
              <>
                <h3>Proportions</h3>
                <ul className="fact-list">
                  {report.spans.map(({ name, percent }) => (
                    <li key={name}>
                      {name}: {Math.abs(percent).toFixed(0)} % too {percent > 0 ? 'long' : 'short'}
                    </li>
                  ))}
                </ul>
              </>
            )}
          </div>
          <div>
            <h3>Parts and regions</h3>
            <AreaTable session={session} report={report} />
          </div>
          <div>
            <h3>Light</h3>
            <LightFacts session={session} report={report} />
            <h3>Colour and edges</h3>
            <EdgeFacts report={report} />
            {own.length > 1 && (
              <>
                <h3>Over time</h3>
                <Suspense fallback={<div style={{ height: 110 }} />}>
                  <Course looks={own} />
                </Suspense>
              </>
            )}
            <ul className="page-looks">
              {own.toReversed().map((look) => (
                <LookRow key={look.id} session={session} look={look} />
              ))}
            </ul>
          </div>
        </section>
      </div>
    </Modal>
  );
}

function LookRow({ session, look }: { readonly session: Session; readonly look: Look }) {
  const url = useLookUrl(session, look.id);
  return (
    <li>
      {url && <img src={url} alt="" />}
      <span>{lookWords(look)}</span>
    </li>
  );
}

/** The painting through the reference's camera. */
function usePainted(session: Session): string | null {
  const report = useMatchView((s) => s.report);
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    let made: string | null = null;
    let isHere = true;
    session.matcher
      .ask('look', { how: { as: 'colors' } })
      .then((look) => bitmapsOf(look).painted.convertToBlob({ type: 'image/png' }))
      .then((blob) => {
        if (!isHere) return;
        made = URL.createObjectURL(blob);
        setUrl(made);
      })
      .catch(() => setUrl(null));
    return () => {
      isHere = false;
      if (made) URL.revokeObjectURL(made);
    };
  }, [session, report]);
  return url;
}
