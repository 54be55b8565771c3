import { EyeIcon } from '@phosphor-icons/react/dist/csr/Eye';
import { EyeSlashIcon } from '@phosphor-icons/react/dist/csr/EyeSlash';
import { useMemo, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import type { Session } from '../project';
import { Chip } from '../shared/Chip';
import { openMenu } from '../shared/context-menu';
import { RenameField } from '../shared/RenameField';
import { useRowsInSight } from '../shared/rows-in-sight';
import { useUi } from '../shared/ui-store';
import { alsoChoosePart, choosePart, SEEN_ENTRIES, useViewport } from '../viewport';
import { PART_ENTRIES } from './commands';
import { rename } from './model-actions';

/** Fewer parts are seen at a glance. */
const FILTER_FROM = 10;

/** Of a row, pixels. */
const ROW_HEIGHT = 26;

/** The parts of the model, to be found, chosen, hidden and named. */
export function PartList({ session, mesh }: { readonly session: Session; readonly mesh: UvMesh }) {
  const [filter, setFilter] = useState('');
  const selected = useUi((s) => s.selectedPart);
  const wanted = filter.trim().toLowerCase();
  const counts = useMemo(() => {
    const out = new Array<number>(mesh.parts.length).fill(0);
    for (const part of mesh.faceParts) out[part]!++;
    return out;
  }, [mesh]);
  const listed = [...mesh.parts.keys()].filter((part) => mesh.parts[part]!.toLowerCase().includes(wanted));
  const { host, rows, before, after, isLong } = useRowsInSight<HTMLUListElement>(
    listed.length,
    ROW_HEIGHT,
    selected === null ? -1 : listed.indexOf(selected),
  );
  return (
    <>
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
      <ul className={isLong ? 'parts long' : 'parts'} ref={host}>
        {before > 0 && <li aria-hidden style={{ height: before }} />}
        {rows.map((row) => {
          const part = listed[row]!;
          return (
            <PartRow
              key={part}
              session={session}
              part={part}
              name={mesh.parts[part]!}
              triangles={counts[part]!}
              parts={mesh.parts.length}
            />
          );
        })}
        {after > 0 && <li aria-hidden style={{ height: after }} />}
      </ul>
    </>
  );
}

function PartRow({
  session,
  part,
  name,
  triangles,
  parts,
}: {
  readonly session: Session;
  readonly part: number;
  readonly name: string;
  readonly triangles: number;
  /** How many there are. */
  readonly parts: number;
}) {
  const viewport = useViewport();
  const isChosen = useUi((s) => s.selectedPart === part || s.alsoParts.has(part));
  const isHidden = useUi((s) => s.hidden.has(part));
  const isAlone = useUi(({ hidden }) => hidden.size > 0 && hidden.size === parts - 1 && !hidden.has(part));
  const isRenamed = useUi((s) => s.renaming?.of === 'part' && s.renaming.id === part);
  const hide = (of: (hidden: ReadonlySet<number>) => Iterable<number>): void =>
    useUi.setState(({ hidden }) => ({ hidden: new Set(of(hidden)) }));
  const others = (): number[] => Array.from({ length: parts }, (_, p) => p).filter((p) => p !== part);
  return (
    <li
      className={isChosen ? 'on' : ''}
      onContextMenu={(e) => {
        e.preventDefault();
        if (!isChosen) choosePart(part);
        openMenu({
          x: e.clientX,
          y: e.clientY,
          title: name,
          entries: [...PART_ENTRIES, null, ...SEEN_ENTRIES],
        });
      }}
    >
      {isRenamed ? (
        <RenameField
          name={name}
          label="Name of the part"
          most={80}
          onDone={(next) => {
            useUi.setState({ renaming: null });
            if (next) void rename(session, part, next);
          }}
        />
      ) : (
        <button
          type="button"
          className="part-name"
          aria-pressed={isChosen}
          onClick={(e) => {
            if (e.shiftKey) alsoChoosePart(part);
            else choosePart(part);
          }}
          onDoubleClick={() => viewport.view?.camera.frame(part)}
          onKeyDown={(e) => {
            if (e.key !== 'F2') return;
            e.stopPropagation();
            useUi.setState({ renaming: { of: 'part', id: part } });
          }}
        >
          {name} <small>{triangles.toLocaleString('en')} triangles</small>
        </button>
      )}
      <Chip on={isAlone} title="See this part alone" onClick={() => hide(() => (isAlone ? [] : others()))}>
        Alone
      </Chip>
      <button
        type="button"
        className="eye"
        aria-label={isHidden ? `Show ${name}` : `Hide ${name}`}
        aria-pressed={!isHidden}
        onClick={() =>
          hide((hidden) => (isHidden ? [...hidden].filter((p) => p !== part) : [...hidden, part]))
        }
      >
        {isHidden ? <EyeSlashIcon size={15} /> : <EyeIcon size={15} />}
      </button>
    </li>
  );
}
