import { useRef, useState } from 'react';
import { Form } from 'react-bootstrap';
import { backdropSheets } from '../../core/mesh';
import {
  DEFAULT_BOUND,
  MOST_BOUND,
  type LayoutEdit,
  type PlanStep,
  type UnwrapOptions,
} from '../../core/unwrap';
import { Chip } from '../shared/Chip';
import { type Session, sheetSizes, useActiveSheet, useForm, useProject } from '../project';
import { Slider } from '../shared/Slider';
import { useLayout, type PlannedCut } from '../shared/layout-store';
import { ArrangeChips } from './ArrangeChips';
import { dismissPreview, editLayout, NOTHING_TO_LAY_OUT, previewLayout, takePreview } from './layout-actions';
import { LayoutFiles } from './LayoutFiles';
import { ApartMenu } from './ApartMenu';
import { keptSeams, ownSeams, planFor, planNatural, stackWish, stepAt } from './natural-cut';
import { SheetSection } from './SheetSection';
import { useLayoutMeasures, type MeasuredLayout } from './use-layout-measures';

type Way = Pick<UnwrapOptions, 'seams' | 'cut'>;

const WAYS = {
  natural: ['Few seams, hidden', { seams: 'auto', cut: 'natural' }],
  even: ['Even pieces', { seams: 'auto', cut: 'even' }],
  existing: ['Along the present islands', { seams: 'existing' }],
  creases: ['Along creases', { seams: 'creases' }],
} as const satisfies Record<string, readonly [string, Way]>;

/** L² stretch where the slider ends on the side of least stretch. */
const LEAST_BOUND = 1.002;

/** How long the slider rests before what it comes to is laid out, ms. */
const REST = 250;

/** The layout as a whole: what it is worth, and how to make another. */
export function LayoutSection({ session }: { readonly session: Session }) {
  const mesh = useForm();
  const document = useProject((s) => s.document);
  const preview = useLayout((s) => s.preview);
  const [way, setWay] = useState<keyof typeof WAYS>('natural');
  const [bound, setBound] = useState(DEFAULT_BOUND);
  const margin = useLayout((s) => s.margin);
  const [everySheet, setEverySheet] = useState(false);
  const arrange = useLayout((s) => s.arrange);
  const keeps = useLayout((s) => s.keeps);
  const stacks = useLayout((s) => s.stacks);
  const apart = useLayout((s) => s.apart);
  const planned = useLayout((s) => s.planned);
  const resting = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const sheet = useActiveSheet();
  const present = useLayoutMeasures(mesh, sheet);
  const coming = useLayoutMeasures(preview?.mesh ?? null, sheet);
  const isFlat = useProject((s) => s.mesh !== null && backdropSheets(s.mesh).has(sheet?.index ?? -1));
  if (!mesh || !document || !sheet) return <p className="hint-line">The surface is being measured.</p>;
  if (isFlat)
    return (
      <>
        <p className="hint-line">{NOTHING_TO_LAY_OUT}</p>
        <SheetSection session={session} />
      </>
    );
  const only = document.sheets.length > 1 && !everySheet ? sheet.index : null;
  const isNatural = way === 'natural';
  /** A plan goes for one sheet. */
  const mayPlan = isNatural && (document.sheets.length === 1 || only !== null);
  const plan = mayPlan ? planFor(planned, mesh, document, only, { keeps, stacks, apart }) : null;
  const editAt = (at: number, ready: PlannedCut | null): LayoutEdit => ({
    do: 'unwrap',
    how: {
      margin,
      bound: at,
      ...WAYS[way][1],
      arrange: isNatural ? arrange : 'tightest',
      ...stackWish(mesh, document, { stacks, apart }),
      ...(way === 'natural' || way === 'even'
        ? { kept: keptSeams(document), wishes: document.seamWishes }
        : {}),
      ...(ready ? { plan: ready.plan } : {}),
    },
    sizes: sheetSizes(),
    sheet: only,
  });
  const edit = editAt(bound, plan);
  const look = async (at: number): Promise<void> => {
    const ready = mayPlan ? await planNatural(only) : null;
    if (mayPlan && !ready) return;
    await previewLayout('Lay out the model', editAt(at, ready));
  };
  const slide = (t: number): void => {
    const at = boundAt(t);
    setBound(at);
    clearTimeout(resting.current);
    if (preview && plan) resting.current = setTimeout(() => void look(at), REST);
  };
  const step = plan && stepAt(plan, bound);
  const own = ownSeams(document).length;
  return (
    <>
      <Figures present={present} coming={preview ? coming : null} />
      {preview && isNatural && plan && <CutSlider bound={bound} step={step} onChange={slide} />}
      {preview ? (
        <div className="row preview-row">
          <Chip
            onClick={() => {
              clearTimeout(resting.current);
              void takePreview(session);
            }}
          >
            Apply this layout
          </Chip>
          <Chip
            onClick={() => {
              clearTimeout(resting.current);
              dismissPreview();
            }}
          >
            Dismiss
          </Chip>
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
          {isNatural && <CutSlider bound={bound} step={step} onChange={slide} />}
          {isNatural && (
            <div className="row" role="group" aria-label="How islands are arranged">
              <ArrangeChips />
              {own > 0 && (
                <Chip
                  on={keeps}
                  title="Seams that you drew or moved stay; those that were found give way to new ones"
                  onClick={() => useLayout.setState({ keeps: !keeps })}
                >
                  Keep my seams
                </Chip>
              )}
            </div>
          )}
          <div className="row" role="group" aria-label="What shares texels">
            <Chip
              on={stacks}
              title="Mirrored halves and equal pieces share texels, so that all have more of them"
              onClick={() => useLayout.setState({ stacks: !stacks })}
            >
              Stack halves
            </Chip>
            {stacks && <ApartMenu />}
          </div>
          <label className="field">
            Margin
            <Form.Control
              size="sm"
              type="number"
              min={0}
              max={128}
              value={margin}
              aria-label="Margin between islands, texels"
              onChange={(e) =>
                useLayout.setState({ margin: Math.max(0, Math.min(128, Number(e.target.value) || 0)) })
              }
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
              onClick={() => void look(bound)}
            >
              Preview
            </Chip>
          </div>
          <p className="hint-line">
            Paint follows to the same places on the model. One step, which can be undone.
          </p>
          <SheetSection session={session} />
          <LayoutFiles session={session} sheet={document.sheets.length > 1 ? sheet : null} />
        </>
      )}
    </>
  );
}

/** 0 at the fewest seams, 1 at the least stretch; small stretches have more room. */
const boundAt = (t: number): number => LEAST_BOUND + (MOST_BOUND - LEAST_BOUND) * (1 - t) ** 2;
const placeOf = (bound: number): number =>
  1 - Math.sqrt(Math.max(0, bound - LEAST_BOUND) / (MOST_BOUND - LEAST_BOUND));

/** From fewest seams to least stretch, and what that comes to. */
function CutSlider({
  bound,
  step,
  onChange,
}: {
  readonly bound: number;
  readonly step: PlanStep | null;
  readonly onChange: (t: number) => void;
}) {
  return (
    <div className="cut-slider">
      <Slider
        label="Stretch"
        says="From fewest seams to least stretch. 1 is no stretch; 1.06 is hardly seen in paint"
        value={placeOf(bound)}
        min={0}
        max={1}
        step={0.001}
        show={(t) => boundAt(t).toFixed(3)}
        read={(text) => placeOf(Number(text))}
        onChange={onChange}
      />
      <p className="cut-ends" aria-hidden="true">
        <span>fewest seams</span>
        <span>least stretch</span>
      </p>
      {step && (
        <p className="cut-figures" role="status">
          {step.islands} {step.islands === 1 ? 'island' : 'islands'} · seams{' '}
          <b>{step.seamLength.toPrecision(3)}</b> · stretch <b>{step.stretchL2.toFixed(3)}</b>
        </p>
      )}
    </div>
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
