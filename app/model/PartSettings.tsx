import { Form } from 'react-bootstrap';
import { sheetOfPart, type UvMesh } from '../../core/mesh';
import { putParts, type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook, useTip } from '../shared/commands';
import { Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { useViewport } from '../viewport';

const NEW_SHEET = 'new';

/** What can be done with the chosen parts, and what they have. */
export function PartSettings({ session, mesh }: { readonly session: Session; readonly mesh: UvMesh }) {
  const viewport = useViewport();
  const { run } = useCommandBook();
  const tip = useTip();
  const more = useUi((s) => s.alsoParts);
  const selected = useUi((s) => s.selectedPart);
  const someHidden = useUi((s) => s.hidden.size > 0);
  const sheets = useProject((s) => s.document?.sheets) ?? [];
  const weights = useProject((s) => s.document?.weights) ?? [];
  const name = selected === null ? undefined : mesh.parts[selected];
  return (
    <>
      <div className="row">
        <Chip title={tip('The whole model', 'frame')} onClick={() => run('frame')}>
          Frame all
        </Chip>
        <Chip disabled={name === undefined} onClick={() => viewport.view?.camera.frame(selected)}>
          Frame part
        </Chip>
        <Chip
          disabled={!someHidden}
          title={tip('Every part', 'show-all-parts')}
          onClick={() => run('show-all-parts')}
        >
          Show all
        </Chip>
      </div>
      <div className="row">
        <Chip
          disabled={name === undefined}
          title={tip('Give it another name', 'part-rename')}
          onClick={() => run('part-rename')}
        >
          Rename
        </Chip>
        <Chip
          disabled={name === undefined || more.size === 0}
          title={tip('Shift-click more parts, then join them into the chosen one', 'parts-merge')}
          onClick={() => run('parts-merge')}
        >
          Merge
        </Chip>
        <Chip
          disabled={name === undefined}
          title="Each separate shell becomes a part of its own"
          onClick={() => run('part-split')}
        >
          Split shells
        </Chip>
      </div>
      {name !== undefined && selected !== null && (
        <>
          <Slider
            label="Density"
            value={weights.find(([n]) => n === name)?.[1] ?? 1}
            min={0.25}
            max={4}
            step={0.05}
            curve={2}
            show={(v) => `× ${v.toFixed(2)}`}
            read={(text) => Number.parseFloat(text.replace('×', ''))}
            onChange={(v, gesture) =>
              void session.command(
                { do: 'set-layout', weights: [...weights.filter(([n]) => n !== name), [name, v]] },
                gesture,
              )
            }
          />
          <label className="field">
            Sheet
            <Form.Select
              size="sm"
              value={sheetOfPart(mesh, selected)}
              onChange={({ target: { value } }) =>
                void putParts(session, [selected, ...more], value === NEW_SHEET ? NEW_SHEET : Number(value))
              }
            >
              {sheets.map((sheet, i) => (
                <option key={i} value={i}>
                  {sheet.name}, {sheet.size}
                </option>
              ))}
              <option value={NEW_SHEET}>A new sheet</option>
            </Form.Select>
          </label>
        </>
      )}
    </>
  );
}
