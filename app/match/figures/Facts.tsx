import { type MatchReport, degreesBetween } from '../../../core/match';
import { type Session, useProject } from '../../project';
import { lightInUse } from '../../../core/proposals';
import { Chip } from '../../shared/Chip';
import { useViewport } from '../../viewport';
import { showPlace } from './show-place';
import { tryAdvice } from './try-proposal';

interface Props {
  readonly report: MatchReport;
}

/** Where the model's outline leaves that of the picture. */
export function OutlineFacts({ report: { silhouette } }: Props) {
  const viewport = useViewport();
  return (
    <>
      <dl className="facts">
        <dt>Shared</dt>
        <dd>{(silhouette.iou * 100).toFixed(1)} %</dd>
        <dt>Outline, mean</dt>
        <dd>{silhouette.contourMean.toFixed(1)} px</dd>
        <dt>Outline, worst</dt>
        <dd>{silhouette.contourWorst.toFixed(1)} px</dd>
      </dl>
      <ul className="fact-list">
        {silhouette.places.slice(0, 8).map(({ part, is, percent, at }) => (
          <li key={`${part} ${is}`}>
            <button type="button" className="link-button" onClick={() => showPlace(viewport, at, part)}>
              {part} too {is} by {percent.toFixed(1)} %
            </button>
          </li>
        ))}
        {silhouette.parts.map(({ part, iou }) => (
          <li key={part}>
            {part} by itself: {(iou * 100).toFixed(0)} %
          </li>
        ))}
      </ul>
      <p className="hint-line">
        In percent of the picture’s height: a list for whoever changes the model. Mask a part of the picture
        and it is told by itself.
      </p>
    </>
  );
}

/** From where paint and reference are lit, and which parts disagree. */
export function LightFacts({ session, report }: Props & { readonly session: Session }) {
  const { lightAll, light } = report;
  const plan = useProject((s) =>
    s.document ? s.document.lights.find((l) => l.id === lightInUse(s.document!))?.plan : undefined,
  );
  const toPlan = plan && lightAll.model ? degreesBetween(lightAll.model.direction, plan.key.direction) : null;
  return (
    <>
      <dl className="facts">
        <dt>Paint and reference</dt>
        <dd>{lightAll.degrees === null ? '–' : `${lightAll.degrees.toFixed(0)}°`}</dd>
        <dt>Paint and light plan</dt>
        <dd>{toPlan === null ? '–' : `${toPlan.toFixed(0)}°`}</dd>
      </dl>
      <ul className="fact-list">
        {light
          .filter((l) => l.certainty >= 0.3)
          .map(({ part, degrees, certainty }) => (
            <li key={part}>
              {part}: {degrees === null ? 'not told in the reference' : `${degrees.toFixed(0)}° off`}{' '}
              <small>({(certainty * 100).toFixed(0)} % sure)</small>
            </li>
          ))}
      </ul>
      {lightAll.disagree.length > 0 && (
        <p className="hint-line">
          Lit from elsewhere than the rest:{' '}
          {lightAll.disagree.map(({ part, degrees }) => `${part} (${degrees.toFixed(0)}°)`).join(', ')}.
        </p>
      )}
      {lightAll.reference && (
        <div className="row">
          <Chip
            title="Key, sky and ground as the reference has them; tried, and kept if you like it"
            onClick={() =>
              void tryAdvice(session, {
                kind: 'light',
                title: 'Light',
                detail: '',
                area: null,
                of: 'part',
                tone: null,
                colors: null,
                at: null,
                apply: 'light',
                weight: 0,
              })
            }
          >
            Light plan as in the reference
          </Chip>
        </div>
      )}
    </>
  );
}

/** Hue, chroma, borders, lines and texture of both. */
export function EdgeFacts({ report: { colors, edges } }: Props) {
  const rows = (['reference', 'model'] as const).map((side) => {
    const { dominant, dominance, chroma, spread } = colors[side];
    const { crisp, lineWidth, grain } = edges[side];
    return [
      dominant === null ? 'none' : `${dominant}°`,
      `${(dominance * 100).toFixed(0)} %`,
      `${spread}°`,
      chroma.map((c) => c.toFixed(0)).join(' · '),
      `${(crisp * 100).toFixed(0)} %`,
      lineWidth === null ? 'none' : `${lineWidth.toFixed(2)} %`,
      grain.map((g) => g.toFixed(1)).join(' · '),
    ];
  });
  const names = [
    ['Dominant hue', 'CIELAB hue that most of the colour has'],
    ['its share', 'How much of all colour lies within 30° of it'],
    ['Hues span', 'Degrees that hold nine tenths of the colour'],
    ['Chroma', 'Low, middle and high'],
    ['Crisp borders', 'Of all borders between values; the rest is soft'],
    ['Line width', 'Dark lines, in percent of the height'],
    ['Texture', 'Fine, middling and coarse, in lightness'],
  ] as const;
  return (
    <table className="both">
      <thead>
        <tr>
          <th />
          <th>wanted</th>
          <th>painted</th>
        </tr>
      </thead>
      <tbody>
        {names.map(([name, says], i) => (
          <tr key={name} title={says}>
            <th>{name}</th>
            <td>{rows[0]![i]}</td>
            <td>{rows[1]![i]}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
