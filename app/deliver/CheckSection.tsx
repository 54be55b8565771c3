import { Form } from 'react-bootstrap';
import type { CheckFinding, CheckReport } from '../../core/delivery';
import { checkState, useCheckView, useProject, type Session } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook, useTip } from '../shared/commands';
import { Fold } from '../shared/Fold';
import { wholeIslands } from '../shared/layout-store';
import { useViewport } from '../viewport';
import { checkNow, mendOf } from './checks';
import { setDelivery, useDelivery } from './delivery-settings';
import { showInEngine } from './engine/engine-store';

/** What would be seen in an engine, before it leaves: what is wrong, where, why, and what mends it. */
export function CheckSection({ session }: { readonly session: Session }) {
  const tip = useTip();
  const { checked } = useCheckView();
  const state = useProject((s) => checkState({ checked }, s));
  const report = checked?.report ?? null;
  return (
    <>
      <h2>Check</h2>
      <div className="row">
        <Chip
          title={tip('Seams in the mips, bleed, bare texels and more', 'check-delivery')}
          onClick={() => void checkNow(session)}
        >
          {report ? 'Check again' : 'Check what would leave'}
        </Chip>
        <Chip
          title={tip('What is delivered, read from its file, beside the painting', 'show-in-engine')}
          onClick={() => void showInEngine(session)}
        >
          See it in an engine
        </Chip>
      </div>
      {report && (
        <div className="checked" aria-live="polite">
          <p className="hint-line">
            {state === 'stale' && 'What would leave has changed since. '}
            {verdict(report)}
          </p>
          {report.findings.map((finding, i) => (
            <Finding key={i} session={session} finding={finding} />
          ))}
          <Facts report={report} />
        </div>
      )}
      <AskFields />
    </>
  );
}

function verdict({ findings, ok }: CheckReport): string {
  if (findings.length === 0) return 'Nothing was found.';
  const wrong = findings.filter((f) => f.weight === 'wrong').length;
  if (!ok) return `${wrong} of ${findings.length} would be seen as wrong.`;
  return `Nothing is wrong; ${findings.length === 1 ? 'one thing is' : `${findings.length} things are`} for your eye to decide.`;
}

function Finding({ session, finding }: { readonly session: Session; readonly finding: CheckFinding }) {
  const viewport = useViewport();
  const book = useCommandBook();
  const settings = useDelivery((s) => s.settings);
  const mend = mendOf(finding, settings);
  const show = (): void => {
    const { mesh } = useProject.getState();
    if (!mesh || finding.face < 0) return;
    viewport.view?.camera.frameFaces(wholeIslands(mesh, [finding.face]));
  };
  const run = async (): Promise<void> => {
    if (await mend!.run(session, (id) => book.run(id))) await checkNow(session);
  };
  return (
    <div className={`finding ${finding.weight}`}>
      <p>
        <b>{finding.weight === 'wrong' ? 'Wrong: ' : 'Look: '}</b>
        {finding.says}
      </p>
      <div className="row">
        {finding.face >= 0 && <Chip onClick={show}>Show</Chip>}
        {mend && (
          <Chip title={mend.title} onClick={() => void run()}>
            {mend.label}
          </Chip>
        )}
      </div>
    </div>
  );
}

function Facts({ report }: { readonly report: CheckReport }) {
  const memory = report.sheets.reduce((sum, s) => sum + s.memory, 0);
  const lost = report.sheets.flatMap((s) => (s.lost ? [s.lost.p95] : []));
  return (
    <dl className="facts">
      <dt>In the engine</dt>
      <dd>{(memory / 2 ** 20).toFixed(1)} MB with mips</dd>
      {lost.length > 0 && (
        <>
          <dt>Lost in the file</dt>
          <dd>ΔE {Math.max(...lost).toFixed(1)} at its worst twentieth</dd>
        </>
      )}
    </dl>
  );
}

/** What is asked. */
function AskFields() {
  const { check } = useDelivery((s) => s.settings);
  const number = (label: string, key: keyof typeof check, min: number, max: number, step = 1) => (
    <label className="field">
      {label}
      <Form.Control
        size="sm"
        type="number"
        min={min}
        max={max}
        step={step}
        value={check[key]}
        onChange={(e) => {
          const value = Number(e.target.value);
          if (e.target.value !== '' && value >= min && value <= max)
            setDelivery({ check: { ...check, [key]: value } });
        }}
      />
    </label>
  );
  return (
    <Fold title="What is asked" note={`${check.mips} mips, ΔE ${check.limit}`}>
      {number('Clean mips', 'mips', 0, 8)}
      {number('Seams up to ΔE', 'limit', 0.5, 20, 0.5)}
      {number('Darkest L*', 'low', 0, 99)}
      {number('Lightest L*', 'high', 1, 100)}
      {number('Game size, px', 'gameSize', 8, 2048, 8)}
    </Fold>
  );
}
