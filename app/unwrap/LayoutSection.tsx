import { useState } from 'react';
import { Form } from 'react-bootstrap';
import { DEFAULT_BOUND, type LayoutEdit, type UnwrapOptions } from '../../core/unwrap';
import { Chip } from '../shared/Chip';
import { type Session, sheetSizes, useActiveSheet, useProject } from '../project';
import { Slider } from '../shared/Slider';
import { useLayout } from '../shared/layout-store';
import { DEFAULT_MARGIN, editLayout, previewLayout, takePreview } from './layout-actions';
import { LayoutFiles } from './LayoutFiles';
import { SheetSection } from './SheetSection';
import { useLayoutMeasures, type MeasuredLayout } from './use-layout-measures';

type Way = Pick<UnwrapOptions, 'seams' | 'cut'>;

const WAYS = {
  even: ['Even pieces', { seams: 'auto', cut: 'even' }],
  natural: ['Few seams, hidden', { seams: 'auto', cut: 'natural' }],
  existing: ['Along the present islands', { seams: 'existing' }],
  creases: ['Along creases', { seams: 'creases' }],
} as const satisfies Record<string, readonly [string, Way]>;

/** L² stretch that a natural cut may be allowed. */
const [LEAST_BOUND, MOST_BOUND] = [1.005, 1.15];

/** The layout as a whole: what it is worth, and how to make another. */
export function LayoutSection({ session }: { readonly session: Session }) {
  const mesh = useProject((s) => s.mesh);
  const document = useProject((s) => s.document);
  const preview = useLayout((s) => s.preview);
  const [way, setWay] = useState<keyof typeof WAYS>('even');
  const [bound, setBound] = useState(DEFAULT_BOUND);
  const [margin, setMargin] = useState(DEFAULT_MARGIN);
  const [everySheet, setEverySheet] = useState(false);
  const sheet = useActiveSheet();
  const present = useLayoutMeasures(mesh, sheet);
  const coming = useLayoutMeasures(preview?.mesh ?? null, sheet);
  if (!mesh || !document || !sheet) return <p className="hint-line">The surface is being measured.</p>;
  const edit: LayoutEdit = {
    do: 'unwrap',
    how: { margin, bound, ...WAYS[way][1], weights: new Map(document.weights) },
    sizes: sheetSizes(),
    sheet: document.sheets.length > 1 && !everySheet ? sheet.index : null,
  };
  return (
    <>
      <Figures present={present} coming={preview ? coming : null} />
      {preview ? (
        <div className="row preview-row">
          <Chip onClick={() => void takePreview(session)}>Apply this layout</Chip>
          <Chip onClick={() => useLayout.setState({ preview: null })}>Dismiss</Chip>
        </div>
      ) : (
        <>
          <h2>Lay out anew</h2>
          <label className="field">
            Cut
            <Form.Select size="sm" value={way} onChange={(e) => setWay(e.target.value as keyof typeof WAYS)}>
              {Object.entries(WAYS).map(([value, [title]]) => (
                <option key={value} value={value}>
                  {title}
                </option>
              ))}
            </Form.Select>
          </label>
          {way === 'natural' && (
            <Slider
              label="Stretch"
              says="What may be stretched, on the whole: the more, the fewer seams are needed. 1 is none; 1.06 is hardly seen in paint"
              value={bound}
              min={LEAST_BOUND}
              max={MOST_BOUND}
              step={0.005}
              onChange={setBound}
            />
          )}
          <label className="field">
            Margin
            <Form.Control
              size="sm"
              type="number"
              min={0}
              max={128}
              value={margin}
              aria-label="Margin between islands, texels"
              onChange={(e) => setMargin(Math.max(0, Math.min(128, Number(e.target.value) || 0)))}
            />
          </label>
          {document.sheets.length > 1 && (
            <div className="row" role="group" aria-label="Which sheets">
              <Chip on={!everySheet} onClick={() => setEverySheet(false)}>
                {sheet.name} only
              </Chip>
              <Chip on={everySheet} onClick={() => setEverySheet(true)}>
                Every sheet
              </Chip>
            </div>
          )}
          <div className="row">
            <Chip primary onClick={() => void editLayout(session, 'Lay out the model', edit)}>
              Lay out
            </Chip>
            <Chip
              title="Make the layout and look at it before it is applied"
              onClick={() => void previewLayout('Lay out the model', edit)}
            >
              Preview
            </Chip>
          </div>
          <p className="hint-line">
            Paint follows to the same places on the model. One step, which can be undone.
          </p>
          <SheetSection session={session} />
          <LayoutFiles sheet={document.sheets.length > 1 ? sheet : null} />
        </>
      )}
    </>
  );
}

/** Figures side by side while another layout is looked at. */
function Figures({
  present,
  coming,
}: {
  readonly present: MeasuredLayout | null;
  readonly coming: MeasuredLayout | null;
}) {
  /** What takes no room is stretched beyond all measure. */
  const told = (x: number, digits: number): string => (Number.isFinite(x) ? x.toFixed(digits) : 'no room');
  const rows: readonly (readonly [string, (m: MeasuredLayout['whole']) => string])[] = [
    ['Islands', (m) => String(m.islands)],
    ['Stretch', (m) => told(m.stretchL2, 3)],
    ['Worst stretch', (m) => told(m.stretchLinf, 1)],
    ['Angles', (m) => told(m.angle, 3)],
    ['Areas', (m) => told(m.area, 3)],
    ['Filled', (m) => `${(m.fill * 100).toFixed(0)} %`],
    ['Seams', (m) => m.seamLength.toPrecision(3)],
    ['Seams in sight', (m) => (m.seamLength > 0 ? `${(m.seamSight * 100).toFixed(0)} %` : 'none')],
    ['Overlapping texels', (m) => m.overlappedTexels.toLocaleString('en')],
    ['Face down', (m) => String(m.flipped)],
  ];
  return (
    <table className="figures" aria-label="What the layout is worth">
      {coming && (
        <thead>
          <tr>
            <td />
            <th scope="col">now</th>
            <th scope="col">new</th>
          </tr>
        </thead>
      )}
      <tbody>
        {rows.map(([title, of]) => (
          <tr key={title}>
            <th scope="row">{title}</th>
            <td>{present ? of(present.whole) : '…'}</td>
            {coming && <td>{of(coming.whole)}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
