import { Form } from 'react-bootstrap';
import { backdropSheets, sheetOfPart } from '../../core/mesh';
import { SHEET_SIZES } from '../../core/surface';
import { Chip } from '../shared/Chip';
import { type Session, removeSheet, resizeSheet, useActiveSheet, useProject } from '../project';
import { RenameField } from '../shared/RenameField';
import { openMenu } from '../shared/context-menu';
import { useUi } from '../shared/ui-store';
import { SHEET_ENTRIES } from './commands';
import { joinSheets, tell } from './layout-actions';

/** The sheets of the project: which is shown, how large each is. */
export function SheetSection({ session }: { readonly session: Session }) {
  const sheets = useProject((s) => s.document?.sheets) ?? [];
  const mesh = useProject((s) => s.mesh);
  const active = useActiveSheet();
  const renaming = useUi((s) => (s.renaming?.of === 'sheet' ? s.renaming.id : null));
  const setRenaming = (id: number | null): void =>
    useUi.setState({ renaming: id === null ? null : { of: 'sheet', id } });
  if (!mesh || !active) return null;
  const partsOn = (sheet: number): number =>
    mesh.parts.filter((_, p) => sheetOfPart(mesh, p) === sheet).length;
  return (
    <>
      <h2>
        Sheets <span>{sheets.length}</span>
      </h2>
      <ul className="sheet-list">
        {sheets.map((sheet, index) => {
          const parts = partsOn(index);
          return (
            <li
              key={index}
              className={active.index === index ? 'on' : ''}
              onContextMenu={(e) => {
                e.preventDefault();
                useUi.setState({ sheet: index });
                openMenu({ x: e.clientX, y: e.clientY, title: sheet.name, entries: SHEET_ENTRIES });
              }}
            >
              {renaming === index ? (
                <RenameField
                  name={sheet.name}
                  label="Name of the sheet"
                  most={60}
                  onDone={(name) => {
                    setRenaming(null);
                    if (name) session.command({ do: 'rename-sheet', sheet: index, name });
                  }}
                />
              ) : (
                <button
                  type="button"
                  className="part-name"
                  aria-pressed={active.index === index}
                  title="Double-click or F2 to rename"
                  onClick={() => useUi.setState({ sheet: index })}
                  onDoubleClick={() => setRenaming(index)}
                  onKeyDown={(e) => {
                    if (e.key !== 'F2') return;
                    e.stopPropagation();
                    setRenaming(index);
                  }}
                >
                  {sheet.name}{' '}
                  <small>
                    {parts} {parts === 1 ? 'part' : 'parts'}
                  </small>
                </button>
              )}
              {parts === 0 && sheets.length > 1 && (
                <Chip title="Nothing lies on it" onClick={() => void removeSheet(session, index)}>
                  Remove
                </Chip>
              )}
              <Form.Select
                size="sm"
                aria-label={`Size of ${sheet.name}`}
                value={sheet.size}
                onChange={(e) =>
                  void resizeSheet(session, index, Number(e.target.value)).then((carried) =>
                    tell(session, `${sheet.name} of ${e.target.value}`, carried),
                  )
                }
              >
                {SHEET_SIZES.map((n) => (
                  <option key={n} value={n}>
                    {n} × {n}
                  </option>
                ))}
              </Form.Select>
            </li>
          );
        })}
      </ul>
      {sheets.filter((_, s) => !backdropSheets(mesh).has(s)).length > 1 && (
        <div className="row">
          <Chip
            title="All of the model on one sheet with as many texels; paint goes along"
            onClick={() => void joinSheets(session)}
          >
            Join sheets
          </Chip>
        </div>
      )}
      {sheets.length === 1 && (
        <p className="hint-line">A part is put on a sheet of its own at the Model stage.</p>
      )}
    </>
  );
}
