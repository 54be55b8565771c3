import { EyeIcon } from '@phosphor-icons/react/dist/csr/Eye';
import { EyeSlashIcon } from '@phosphor-icons/react/dist/csr/EyeSlash';
import { useMemo, useState } from 'react';
import { Form } from 'react-bootstrap';
import { boundsOf, sheetOfPart, triangleCount, vertexCount } from '../../core/mesh';
import { Chip } from '../shared/Chip';
import { type Session, putParts, useProject } from '../project';
import { RenameField } from '../shared/RenameField';
import { percent, Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { alsoChoosePart, choosePart, useRoom } from '../viewport';
import { HealthList } from './HealthList';
import { merge, rename, splitShells } from './model-actions';
import { ModelTools } from './ModelTools';
import { RegionList } from './RegionList';

const NEW_SHEET = 'new';

/** Fewer parts are seen at a glance. */
const FILTER_FROM = 10;

/** The parts of the model, and how it is looked at. */
export function ModelPanel({ session }: { readonly session: Session }) {
  const room = useRoom();
  const onShow = (faces: ReadonlySet<number>): void => room.view?.camera.frameFaces(faces);
  const renaming = useUi((s) => (s.renaming?.of === 'part' ? s.renaming.id : null));
  const setRenaming = (id: number | null): void =>
    useUi.setState({ renaming: id === null ? null : { of: 'part', id } });
  const more = useUi((s) => s.alsoParts);
  const weights = useProject((s) => s.document?.weights) ?? [];
  const sheets = useProject((s) => s.document?.sheets) ?? [];
  const mesh = useProject((s) => s.mesh);
  const hidden = useUi((s) => s.hidden);
  const selected = useUi((s) => s.selectedPart);
  const ground = useUi((s) => s.ground);
  const counts = useMemo(() => {
    const out = new Array<number>(mesh?.parts.length ?? 0).fill(0);
    for (const part of mesh?.faceParts ?? []) out[part]!++;
    return out;
  }, [mesh]);
  const [filter, setFilter] = useState('');
  if (!mesh) return null;
  const wanted = filter.trim().toLowerCase();
  const listed = mesh.parts
    .map((name, part) => [name, part] as const)
    .filter(([name]) => name.toLowerCase().includes(wanted));
  const { min, max } = boundsOf(mesh.positions);
  const setHidden = (next: Iterable<number>): void => useUi.setState({ hidden: new Set(next) });
  const isAlone = (part: number): boolean =>
    hidden.size > 0 && hidden.size === mesh.parts.length - 1 && !hidden.has(part);
  return (
    <section className="panel" aria-label="Parts">
      <h2>
        Parts <span>{mesh.parts.length}</span>
      </h2>
      {mesh.parts.length > FILTER_FROM && (
        <input
          type="search"
          className="filter"
          placeholder="find a part"
          aria-label="Find a part"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
        />
      )}
      <ul className="parts">
        {listed.map(([name, part]) => (
          <li key={name} className={selected === part || more.has(part) ? 'on' : ''}>
            {renaming === part ? (
              <RenameField
                name={name}
                label="Name of the part"
                most={80}
                onDone={(next) => {
                  setRenaming(null);
                  if (next) void rename(session, part, next);
                }}
              />
            ) : (
              <button
                type="button"
                className="part-name"
                onClick={(e) => {
                  if (e.shiftKey) alsoChoosePart(part);
                  else choosePart(part);
                }}
                onDoubleClick={() => room.view?.camera.frame(part)}
                onKeyDown={(e) => {
                  if (e.key === 'F2') setRenaming(part);
                }}
              >
                {name} <small>{counts[part]!.toLocaleString('en')} triangles</small>
              </button>
            )}
            <Chip
              on={isAlone(part)}
              title="See this part alone"
              onClick={() =>
                setHidden(isAlone(part) ? [] : counts.map((_, p) => p).filter((p) => p !== part))
              }
            >
              Alone
            </Chip>
            <button
              type="button"
              className="eye"
              aria-label={hidden.has(part) ? `Show ${name}` : `Hide ${name}`}
              aria-pressed={!hidden.has(part)}
              onClick={() =>
                setHidden(hidden.has(part) ? [...hidden].filter((p) => p !== part) : [...hidden, part])
              }
            >
              {hidden.has(part) ? <EyeSlashIcon size={15} /> : <EyeIcon size={15} />}
            </button>
          </li>
        ))}
      </ul>
      <div className="row">
        <Chip onClick={() => room.view?.camera.frame(null)}>Frame all</Chip>
        <Chip disabled={selected === null} onClick={() => room.view?.camera.frame(selected)}>
          Frame part
        </Chip>
        <Chip disabled={hidden.size === 0} onClick={() => setHidden([])}>
          Show all
        </Chip>
      </div>
      <div className="row">
        <Chip disabled={selected === null} title="F2" onClick={() => setRenaming(selected)}>
          Rename
        </Chip>
        <Chip
          disabled={selected === null || more.size === 0}
          title="Shift-click more parts, then join them into the chosen one"
          onClick={() => void merge(session, [selected!, ...more])}
        >
          Merge
        </Chip>
        <Chip
          disabled={selected === null}
          title="Each separate shell becomes a part of its own"
          onClick={() => void splitShells(session, selected!)}
        >
          Split shells
        </Chip>
      </div>
      {selected !== null && mesh.parts[selected] !== undefined && (
        <Slider
          label="Density"
          value={weights.find(([name]) => name === mesh.parts[selected])?.[1] ?? 1}
          min={0.25}
          max={4}
          step={0.05}
          curve={2}
          show={(v) => `× ${v.toFixed(2)}`}
          read={(text) => Number.parseFloat(text.replace('×', ''))}
          onChange={(v, gesture) =>
            void session.command(
              {
                do: 'set-layout',
                weights: [...weights.filter(([n]) => n !== mesh.parts[selected]), [mesh.parts[selected]!, v]],
              },
              gesture,
            )
          }
        />
      )}
      {selected !== null && mesh.parts[selected] !== undefined && (
        <label className="field">
          Sheet
          <Form.Select
            size="sm"
            value={sheetOfPart(mesh, selected)}
            onChange={(e) =>
              void putParts(
                session,
                [selected, ...more],
                e.target.value === NEW_SHEET ? NEW_SHEET : Number(e.target.value),
              )
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
      )}
      <RegionList session={session} parts={selected === null ? [] : [selected, ...more]} onShow={onShow} />
      <HealthList session={session} onShow={onShow} />
      <ModelTools session={session} />
      <Slider
        label="Backdrop"
        value={ground}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(v) => useUi.setState({ ground: v })}
      />
      <dl className="facts">
        <dt>Triangles</dt>
        <dd>{triangleCount(mesh).toLocaleString('en')}</dd>
        <dt>Vertices</dt>
        <dd>{vertexCount(mesh).toLocaleString('en')}</dd>
        <dt>Size</dt>
        <dd>{[0, 1, 2].map((a) => (max[a]! - min[a]!).toFixed(2)).join(' × ')}</dd>
      </dl>
      <p className="hint-line">
        Double-click a part to frame it, Shift-click to choose several. Right button turns, middle button
        moves, wheel comes nearer.
      </p>
    </section>
  );
}
