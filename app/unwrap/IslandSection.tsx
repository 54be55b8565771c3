import { useMemo, useState } from 'react';
import { Chip } from '../shared/Chip';
import { type Session, useActiveSheet, useProject } from '../project';
import { openMenu } from '../shared/context-menu';
import { useLayout } from '../shared/layout-store';
import { ArrangeSection } from './ArrangeSection';
import { ISLAND_ENTRIES } from './island-commands';
import { packIslands, stackTwins } from './layout-actions';
import { useLayoutMeasures, type MeasuredLayout } from './use-layout-measures';

type Row = MeasuredLayout['islands'][number];

const COLUMNS: readonly (readonly [
  key: string,
  title: string,
  of: (r: Row) => number,
  show: (r: Row) => string,
])[] = [
  // Model units squared; texels a unit; Sander's L² stretch; per cent of the sheet.
  ['area', 'Area', (r) => r.area, (r) => (r.area < 100 ? r.area.toPrecision(2) : r.area.toFixed(0))],
  ['density', 'Density', (r) => r.density, (r) => r.density.toFixed(0)],
  ['stretch', 'Stretch', (r) => r.stretchL2, (r) => r.stretchL2.toFixed(3)],
  ['fill', 'Fill', (r) => r.sheetArea, (r) => (r.sheetArea * 100).toFixed(1)],
];

/** Every island, and what can be done to those that are chosen. */
export function IslandSection({ session }: { readonly session: Session }) {
  const mesh = useProject((s) => s.mesh);
  const sheet = useActiveSheet();
  const size = sheet?.size;
  const pins = useProject((s) => s.document?.pins) ?? [];
  const chosen = useLayout((s) => s.chosen);
  const measured = useLayoutMeasures(mesh, sheet);
  const [sort, setSort] = useState<{ key: string; down: boolean }>({ key: 'fill', down: true });
  const rows = useMemo(() => {
    const column = COLUMNS.find(([key]) => key === sort.key);
    const list = [...(measured?.islands ?? [])];
    if (!mesh) return list;
    return list.sort((a, b) => {
      const order = column
        ? column[2](a) - column[2](b)
        : mesh.parts[a.part]!.localeCompare(mesh.parts[b.part]!);
      return sort.down ? -order : order;
    });
  }, [measured, sort, mesh]);
  if (!mesh || !sheet || !size) return null;
  const firstChosen = rows.find((r) => chosen.has(r.faces[0]!))?.faces[0];
  const numbers = numbersOf(measured?.islands ?? []);
  const nameOf = (row: Row): string => `${mesh.parts[row.part]}${numbers.get(row.faces[0]!) ?? ''}`;
  const isPinned = (row: Row): boolean => row.faces.some((f) => pins.includes(f));
  return (
    <>
      <ArrangeSection session={session} mesh={mesh} size={size} />
      <h2>
        Islands <span>{rows.length}</span>
      </h2>
      <div className="row">
        <button type="button" className="chip primary" onClick={() => void packIslands(session, true)}>
          Pack evenly
        </button>
        <Chip
          title="Islands keep their size beside one another"
          onClick={() => void packIslands(session, false)}
        >
          Pack as they are
        </Chip>
        {chosen.size === 0 && (
          <Chip
            title="Every mirrored twin onto the other: both sides show the same texels"
            onClick={() => void stackTwins(session, [])}
          >
            Stack twins
          </Chip>
        )}
      </div>
      <div className="island-table">
        <table>
          <thead>
            <tr>
              {(
                [
                  ['part', 'Part'],
                  ...COLUMNS.map(([key, title]) => [key, title] as const),
                ] as readonly (readonly [string, string])[]
              ).map(([key, title]) => (
                <th
                  key={key}
                  scope="col"
                  aria-sort={sort.key === key ? (sort.down ? 'descending' : 'ascending') : 'none'}
                >
                  <button
                    type="button"
                    onClick={() => setSort({ key, down: sort.key === key ? !sort.down : true })}
                  >
                    {title}
                    {sort.key === key ? (sort.down ? ' ↓' : ' ↑') : ''}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => {
              const first = row.faces[0]!;
              return (
                <tr
                  key={first}
                  className={chosen.has(first) ? 'on' : ''}
                  ref={first === firstChosen ? scrollTo : undefined}
                  onContextMenu={(e) => {
                    e.preventDefault();
                    if (!chosen.has(first)) choose(row, false);
                    openMenu({ x: e.clientX, y: e.clientY, title: nameOf(row), entries: ISLAND_ENTRIES });
                  }}
                >
                  <td>
                    <button
                      type="button"
                      aria-pressed={chosen.has(first)}
                      onClick={(e) => choose(row, e.shiftKey)}
                    >
                      {isPinned(row) ? '• ' : ''}
                      {nameOf(row)}
                    </button>
                  </td>
                  {COLUMNS.map(([key, , , show]) => (
                    <td key={key}>{show(row)}</td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** The chosen island's row comes into sight. */
function scrollTo(row: HTMLElement | null): void {
  row?.scrollIntoView({ block: 'nearest' });
}

/** Tells the islands of one part apart: by their first triangle, a number where a part has several. */
function numbersOf(islands: readonly Row[]): ReadonlyMap<number, string> {
  const byPart = new Map<number, Row[]>();
  for (const row of islands) byPart.set(row.part, [...(byPart.get(row.part) ?? []), row]);
  return new Map(
    [...byPart.values()].flatMap((rows) =>
      rows.map((row, i) => [row.faces[0]!, rows.length > 1 ? ` ${i + 1}` : ''] as const),
    ),
  );
}

function choose(row: Row, add: boolean): void {
  useLayout.setState(({ chosen }) => {
    const isOn = chosen.has(row.faces[0]!);
    if (!add) return { chosen: isOn && chosen.size === row.faces.length ? new Set() : new Set(row.faces) };
    const next = new Set(chosen);
    for (const f of row.faces) {
      if (isOn) next.delete(f);
      else next.add(f);
    }
    return { chosen: next };
  });
}
